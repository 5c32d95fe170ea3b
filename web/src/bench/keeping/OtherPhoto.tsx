import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import { Link } from "react-router";
import { useRoving } from "../../shared/roving";
import type { PhotoRecord } from "../../api/client";
import { usePhotos } from "../../api/queries";

interface OtherPhotoProps {
  show: boolean;
  present: string;
  onChoose: (photo: PhotoRecord, tones: "matched" | "numbers") => void;
  onLeave: () => void;
}

/** Puts another photo under the finished sheet. */
export function OtherPhoto({ show, present, onChoose, onLeave }: OtherPhotoProps) {
  const photos = usePhotos(show);
  const roving = useRoving<HTMLUListElement>();
  const [isMatched, setMatched] = useState(true);
  const others = photos.data?.filter((photo) => photo.id !== present);
  return (
    <Modal show={show} onHide={onLeave} centered size="lg" aria-labelledby="other-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="other-title">
          Another photo under this sheet
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          Plates, inks and paper stay. Dials that stand at a value suggested for the photo are
          fitted to the new one; dials you have set keep their values.
        </p>
        <Form.Check
          id="swap-matched"
          className="mb-3"
          label="Match its tones: black, middle and white come to where they are now"
          checked={isMatched}
          onChange={(event) => setMatched(event.currentTarget.checked)}
        />
        <ul className="other-photos" {...roving}>
          {others?.map((photo) => (
            <li key={photo.id}>
              <button
                type="button"
                onClick={() => onChoose(photo, isMatched ? "matched" : "numbers")}
              >
                <img src={`/api/photos/${photo.id}/picture?long_edge_px=320`} alt="" />
                {photo.title}
              </button>
            </li>
          ))}
        </ul>
        {others?.length === 0 && (
          <p className="soft">
            There is no other photo yet. <Link to="/">Bring one in on the shelf.</Link>
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}

import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { usePhotos } from "../api/queries";
import { useRoving } from "../shared/roving";

interface ChoosePhotosProps {
  show: boolean;
  /** Ids of the photos that are in the edition already. */
  present: Set<string>;
  onChoose: (photos: string[]) => void;
  onLeave: () => void;
}

/** Chooses many photos of the shelf at once. */
export function ChoosePhotos({ show, present, onChoose, onLeave }: ChoosePhotosProps) {
  const photos = usePhotos(show);
  const [chosen, setChosen] = useState<string[]>([]);
  const roving = useRoving<HTMLUListElement>();
  const others = (photos.data ?? []).filter((photo) => !present.has(photo.id));
  const wanted = chosen.filter((id) => others.some((photo) => photo.id === id));
  const toggle = (id: string) =>
    setChosen((now) => (now.includes(id) ? now.filter((each) => each !== id) : [...now, id]));
  return (
    <Modal
      show={show}
      onHide={onLeave}
      centered
      size="lg"
      scrollable
      aria-label="Photos from the shelf"
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4">
          Photos from the shelf
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {photos.data && others.length === 0 && (
          <p className="soft">Every photo of the shelf is in the edition.</p>
        )}
        <ul className="other-photos" {...roving}>
          {others.map((photo) => (
            <li key={photo.id}>
              <button
                type="button"
                aria-pressed={wanted.includes(photo.id)}
                onClick={() => toggle(photo.id)}
              >
                <img
                  src={`/api/photos/${photo.id}/picture?long_edge_px=320`}
                  alt=""
                  loading="lazy"
                />
                <span>
                  <Form.Check.Input checked={wanted.includes(photo.id)} readOnly tabIndex={-1} />{" "}
                  {photo.title}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="plain" onClick={() => setChosen(others.map((photo) => photo.id))}>
          Choose all {others.length}
        </Button>
        <Button disabled={wanted.length === 0} onClick={() => onChoose(wanted)}>
          Bring in {wanted.length || ""}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

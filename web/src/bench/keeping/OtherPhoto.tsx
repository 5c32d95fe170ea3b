import { Modal } from "react-bootstrap";
import type { PhotoRecord } from "../../api/client";
import { usePhotos } from "../../api/queries";

interface OtherPhotoProps {
  show: boolean;
  present: string;
  onChoose: (photo: PhotoRecord) => void;
  onLeave: () => void;
}

/** Puts another photo under the finished sheet. */
export function OtherPhoto({ show, present, onChoose, onLeave }: OtherPhotoProps) {
  const photos = usePhotos(show);
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
        <ul className="other-photos">
          {photos.data
            ?.filter((photo) => photo.id !== present)
            .map((photo) => (
              <li key={photo.id}>
                <button type="button" onClick={() => onChoose(photo)}>
                  <img src={`/api/photos/${photo.id}/picture?long_edge_px=320`} alt="" />
                  {photo.title}
                </button>
              </li>
            ))}
        </ul>
      </Modal.Body>
    </Modal>
  );
}

import { Modal } from "react-bootstrap";
import { Link } from "react-router";
import type { PhotoRecord } from "../../api/client";
import { usePhotos } from "../../api/queries";
import { useRoving } from "../../shared/roving";

interface ChoosePhotoProps {
  show: boolean;
  onChoose: (photo: PhotoRecord) => void;
  onLeave: () => void;
}

/** Chooses a photo from the shelf for a plate of its own. */
export function ChoosePhoto({ show, onChoose, onLeave }: ChoosePhotoProps) {
  const photos = usePhotos(show);
  const roving = useRoving<HTMLUListElement>();
  return (
    <Modal show={show} onHide={onLeave} centered size="lg" aria-labelledby="choose-photo-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="choose-photo-title">
          A photo for this plate
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <ul className="other-photos" {...roving}>
          {photos.data?.map((photo) => (
            <li key={photo.id}>
              <button type="button" onClick={() => onChoose(photo)}>
                <img src={`/api/photos/${photo.id}/picture?long_edge_px=320`} alt="" />
                {photo.title}
              </button>
            </li>
          ))}
        </ul>
        {photos.data?.length === 0 && (
          <p className="soft">
            There is no photo here yet. <Link to="/">Bring one in on the shelf.</Link>
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}

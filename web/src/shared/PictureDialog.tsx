import type { ReactNode } from "react";
import { Form, Modal } from "react-bootstrap";
import { DrawnImage } from "./DrawnImage";
import { useRoving } from "./roving";

interface Choice {
  key: string | number;
  src: string;
  title: string;
  /** Of one among several: whether it is chosen. */
  isChosen?: boolean;
  onChoose: () => void;
}

interface PictureDialogProps {
  show: boolean;
  title: string;
  /** What there is to choose from; undefined until it is known. */
  choices: Choice[] | undefined;
  /** What is said where there is nothing. */
  none: ReactNode;
  onLeave: () => void;
  /** What stands before the pictures, and beneath them. */
  children?: ReactNode;
  footer?: ReactNode;
}

/** Chooses one of several pictures. */
export function PictureDialog(props: PictureDialogProps) {
  const { show, title, choices, none, onLeave, children, footer } = props;
  const roving = useRoving<HTMLUListElement>();
  return (
    <Modal show={show} onHide={onLeave} centered scrollable={!!footer} size="lg" aria-label={title}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {children}
        <ul className="other-photos" {...roving}>
          {choices?.map((choice) => (
            <li key={choice.key}>
              <button type="button" aria-pressed={choice.isChosen} onClick={choice.onChoose}>
                <DrawnImage src={choice.src} alt="" />
                {choice.isChosen !== undefined && (
                  <Form.Check.Input
                    className="me-1"
                    checked={choice.isChosen}
                    readOnly
                    tabIndex={-1}
                  />
                )}
                {choice.title}
              </button>
            </li>
          ))}
        </ul>
        {choices?.length === 0 && <p className="soft">{none}</p>}
      </Modal.Body>
      {footer && <Modal.Footer>{footer}</Modal.Footer>}
    </Modal>
  );
}

/** A photo of the shelf as a choice. */
export function photoChoice(photo: { id: string; title: string }, onChoose: () => void): Choice {
  const src = `/api/photos/${photo.id}/picture?long_edge_px=320`;
  return { key: photo.id, src, title: photo.title, onChoose };
}

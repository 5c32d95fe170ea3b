import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { cssPxPerMm, keepCssPxPerMm } from "../../shared/paperScale";
import { whileShown } from "../../shared/whileShown";

/** A bank card, by ISO/IEC 7810. */
const CARD_MM = 85.6;

interface RulerDialogProps {
  show: boolean;
  onDone: () => void;
  onLeave: () => void;
}

/** Measures the screen once against a real card or ruler, so that print size is true. */
export const RulerDialog = whileShown(function RulerDialog({
  show,
  onDone,
  onLeave,
}: RulerDialogProps) {
  const [scale, setScale] = useState(cssPxPerMm);
  return (
    <Modal show={show} onHide={onLeave} centered size="lg" aria-labelledby="ruler-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="ruler-title">
          How large is a millimetre on this screen?
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          Lay a bank card or a ruler on the screen, and turn the dial until the bar is as long as
          the card: {CARD_MM} mm. Flinz remembers it for this screen.
        </p>
        <div className="ruler-bar" style={{ width: CARD_MM * scale }} aria-hidden="true">
          <span>{CARD_MM} mm</span>
        </div>
        <Form.Range
          aria-label="Length of the bar"
          min={1.5}
          max={8}
          step={0.005}
          value={scale}
          onChange={(event) => setScale(event.currentTarget.valueAsNumber)}
        />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="plain" onClick={onLeave}>
          Leave as it was
        </Button>
        <Button
          onClick={() => {
            keepCssPxPerMm(scale);
            onDone();
          }}
        >
          The bar is as long
        </Button>
      </Modal.Footer>
    </Modal>
  );
});

import { useEffect, useState } from "react";
import { Modal, Table } from "react-bootstrap";
import { KEYS, onKeysAsked, useKey } from "../shared/keys";

/** What a control does with keys of its own while it has the focus. */
const BY_PLACE = [
  ["← →", "On a dial: turn it a step; with Shift ten steps"],
  ["Enter", "On a dial: type its value; Enter takes it, Esc leaves it"],
  ["Backspace", "On a dial: its starting value"],
  ["← ↑ ↓ →", "On the sheet: move it; + and − come closer and go farther away"],
  ["← ↑ ↓ →", "Among looks, recipes, photos, discs, buttons of a bar: go from one to the next"],
  ["Alt ← →", "On a disc: print its plate earlier or later"],
] as const;

/** The list of keys, made from the table that binds them. */
export function KeysDialog() {
  const [open, setOpen] = useState(false);
  useKey("help", () => setOpen(true));
  useEffect(() => onKeysAsked(() => setOpen(true)), []);
  return (
    <Modal
      show={open}
      onHide={() => setOpen(false)}
      centered
      scrollable
      size="lg"
      aria-labelledby="keys-title"
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="keys-title">
          Keys
        </Modal.Title>
      </Modal.Header>
      {/* It scrolls, which needs the focus. */}
      <Modal.Body tabIndex={0}>
        <Table size="sm" borderless className="keys-table mb-0">
          <tbody>
            {Object.values(KEYS).map((key) => (
              <tr key={key.shown}>
                <th scope="row" className="text-nowrap pe-4">
                  <kbd>{key.shown}</kbd>
                </th>
                <td>{key.words}</td>
              </tr>
            ))}
            {BY_PLACE.map(([keys, words]) => (
              <tr key={words}>
                <th scope="row" className="text-nowrap pe-4">
                  <kbd>{keys}</kbd>
                </th>
                <td>{words}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Modal.Body>
      <Modal.Footer className="justify-content-start">
        {/* Pages of their own, beside this one. */}
        <a href="/guide/" target="_blank" rel="noreferrer">
          Guide: from a photo to a print, job by job
        </a>
        <a className="ms-auto" href="/assets/licences.txt" target="_blank" rel="noreferrer">
          Licences of what Flinz carries
        </a>
      </Modal.Footer>
    </Modal>
  );
}

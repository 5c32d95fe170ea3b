import { useEffect, useState } from "react";
import { Modal, Table } from "react-bootstrap";
import { KEYS, onKeysAsked, useKey } from "../shared/keys";

/** The list of keys, made from the table that binds them. */
export function KeysDialog() {
  const [open, setOpen] = useState(false);
  useKey("help", () => setOpen(true));
  useEffect(() => onKeysAsked(() => setOpen(true)), []);
  return (
    <Modal show={open} onHide={() => setOpen(false)} centered aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="h4" id="keys-title">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Table size="sm" borderless className="mb-0">
          <tbody>
            {Object.values(KEYS).map((key) => (
              <tr key={key.shown}>
                <th scope="row" className="text-nowrap pe-4">
                  <kbd>{key.shown}</kbd>
                </th>
                <td>{key.words}</td>
              </tr>
            ))}
            <tr>
              <th scope="row">
                <kbd>← →</kbd>
              </th>
              <td>Turn the chosen dial a step; with Shift ten steps</td>
            </tr>
          </tbody>
        </Table>
      </Modal.Body>
    </Modal>
  );
}

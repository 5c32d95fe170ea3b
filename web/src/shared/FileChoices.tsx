import { Form } from "react-bootstrap";
import type { Wish } from "../api/client";
import { CheckChoice } from "./CheckChoice";
import { NumberChoice } from "./NumberChoice";
import { VectorChoices } from "./VectorChoices";
import { SizeChoice } from "./SizeChoice";

interface FileChoicesProps {
  wanted: Wish;
  /** The names of what may be wished of this format. */
  has: Set<string>;
  onChange: (change: Partial<Wish>) => void;
}

const DEPTHS: [Wish["depth"], string][] = [
  ["auto", "As the sheet is"],
  ["colour", "In colour: inks and paper as chosen"],
  ["grey", "In greys: 256 tones"],
  ["1-bit", "In black and white alone: 1 bit"],
];

const PAGES: [NonNullable<Wish["page"]>, string][] = [
  ["a4", "A4"],
  ["a3", "A3"],
  ["letter", "Letter"],
];
/** All that may be wished of a file but its format. */
export function FileChoices({ wanted, has, onChange }: FileChoicesProps) {
  return (
    <>
      {has.has("dpi") && <SizeChoice wanted={wanted} onChange={onChange} />}
      {has.has("depth") && (
        <Form.Group controlId="depth" className="mb-2">
          <Form.Label>Colours</Form.Label>
          <Form.Select
            size="sm"
            value={wanted.depth}
            onChange={(e) => onChange({ depth: e.currentTarget.value as Wish["depth"] })}
          >
            {DEPTHS.map(([name, words]) => (
              <option key={name} value={name}>
                {words}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      {wanted.depth === "1-bit" && (
        <Form.Group controlId="greys" className="mb-2">
          <Form.Label>Greys become</Form.Label>
          <Form.Select
            size="sm"
            value={wanted.greys}
            onChange={(e) => onChange({ greys: e.currentTarget.value as Wish["greys"] })}
          >
            <option value="cut">black or white, whichever is nearer</option>
            <option value="grain">fine grain that keeps their tone</option>
          </Form.Select>
        </Form.Group>
      )}
      {has.has("transparent") && (
        <CheckChoice
          id="transparent"
          label="Ink alone: no paper"
          checked={wanted.transparent ?? false}
          onChange={(transparent) => onChange({ transparent })}
        />
      )}
      {has.has("page") && (
        <>
          <Form.Group controlId="page" className="mb-2">
            <Form.Label>Pages</Form.Label>
            <Form.Select
              size="sm"
              value={wanted.page ?? "a4"}
              onChange={(e) => onChange({ page: e.currentTarget.value as Wish["page"] })}
            >
              {PAGES.map(([name, words]) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          <NumberChoice
            label="Over each other, mm"
            value={wanted.overlap ?? 10}
            least={0}
            most={100}
            step={1}
            onChange={(overlap) => onChange({ overlap })}
          />
          <CheckChoice
            id="mirrored"
            label="Mirrored, for a light box"
            checked={wanted.mirrored ?? false}
            onChange={(mirrored) => onChange({ mirrored })}
          />
        </>
      )}
      {has.has("bleed") && (
        <NumberChoice
          label="Bleed beyond the sheet, mm (0: none)"
          value={wanted.bleed ?? 0}
          least={0}
          most={20}
          step={0.5}
          onChange={(bleed) => onChange({ bleed })}
        />
      )}
      {has.has("text") && (
        <CheckChoice
          id="text"
          label="Words in plain ink stay text"
          checked={wanted.text ?? false}
          onChange={(text) => onChange({ text })}
        />
      )}
      {has.has("nib") && (
        <NumberChoice
          label="Width of the pen, mm"
          value={wanted.nib ?? 0.4}
          least={0.03}
          most={10}
          step={0.05}
          onChange={(nib) => onChange({ nib })}
        />
      )}
      {has.has("to_width") && (
        <CheckChoice
          id="to-width"
          label="Wide marks as wide as they are"
          checked={wanted.to_width ?? false}
          onChange={(to_width) => onChange({ to_width })}
        />
      )}
      {has.has("closeness") && <VectorChoices wanted={wanted} onChange={onChange} />}
    </>
  );
}

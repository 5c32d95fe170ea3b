import { Form } from "react-bootstrap";
import type { Wish } from "../api/client";
import { NumberChoice } from "./NumberChoice";
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
/** Numbers that may be wished, and where they begin. */
const NUMBERS = {
  overlap: { label: "Over each other, mm", start: 10, least: 0, most: 100, step: 1 },
  closeness: {
    label: "Outlines follow within, mm",
    start: 0.02,
    least: 0.005,
    most: 2,
    step: 0.005,
  },
  specks: { label: "No shapes under, mm²", start: 0, least: 0, most: 100, step: 0.05 },
  tones: {
    label: "Greys parted in tones (0: a picture)",
    start: 0,
    least: 0,
    most: 12,
    step: 1,
    whole: true,
  },
  under_layer: {
    label: "It reaches out (in, below 0) by, mm",
    start: 0,
    least: -20,
    most: 50,
    step: 0.1,
  },
  outline: { label: "Band round it all, mm (0: none)", start: 0, least: 0, most: 50, step: 0.5 },
} as const;

/** How far an under-layer reaches at first, mm: drawn in, so that nothing of it is seen. */
const FIRST_UNDER = -0.2;

/** All that may be wished of a file but its format. */
export function FileChoices({ wanted, has, onChange }: FileChoicesProps) {
  const under = wanted.under_layer ?? null;
  const number = (name: keyof typeof NUMBERS) => {
    const { start, ...bounds } = NUMBERS[name];
    return (
      <NumberChoice
        {...bounds}
        value={wanted[name] ?? start}
        onChange={(value) => onChange({ [name]: value })}
      />
    );
  };
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
        <Form.Check
          id="transparent"
          className="mb-2"
          label="Ink alone: no paper"
          checked={wanted.transparent ?? false}
          onChange={(e) => onChange({ transparent: e.currentTarget.checked })}
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
          {number("overlap")}
          <Form.Check
            id="mirrored"
            className="mb-2"
            label="Mirrored, for a light box"
            checked={wanted.mirrored ?? false}
            onChange={(e) => onChange({ mirrored: e.currentTarget.checked })}
          />
        </>
      )}
      {has.has("closeness") && (
        <>
          {number("closeness")}
          {number("specks")}
          {number("tones")}
          <Form.Check
            id="drop-paper"
            className="mb-1"
            label="Leave the paper out"
            checked={wanted.drop_paper ?? false}
            onChange={(e) => onChange({ drop_paper: e.currentTarget.checked })}
          />
          <Form.Check
            id="under-layer"
            className="mb-1"
            label="Under-layer for dark cloth"
            checked={under !== null}
            onChange={(e) =>
              onChange({ under_layer: e.currentTarget.checked ? FIRST_UNDER : null })
            }
          />
          {under !== null && number("under_layer")}
          {under !== null && (
            <NumberChoice
              label="Holes stay open from, mm² (0: none)"
              value={wanted.under_holes ?? 0}
              least={0}
              most={100000}
              step={1}
              onChange={(holes) => onChange({ under_holes: holes > 0 ? holes : null })}
            />
          )}
          {number("outline")}
        </>
      )}
    </>
  );
}

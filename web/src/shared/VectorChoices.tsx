import type { Wish } from "../api/client";
import { CheckChoice } from "./CheckChoice";
import { HexField } from "./HexField";
import { NumberChoice } from "./NumberChoice";

interface VectorChoicesProps {
  wanted: Wish;
  onChange: (change: Partial<Wish>) => void;
  /** Whether all is asked that outlines depend on, and not only what is wished often. */
  isFull?: boolean;
}

/** Numbers that may be wished, and where they begin. */
const NUMBERS = {
  closeness: {
    label: "Outlines follow within, mm",
    start: 0.02,
    least: 0.005,
    most: 2,
    step: 0.005,
  },
  corners: {
    label: "Corners sharper than, °",
    start: 40,
    least: 5,
    most: 170,
    step: 5,
  },
  specks: { label: "No shapes under, mm²", start: 0, least: 0, most: 100, step: 0.05 },
  pinholes: { label: "No holes under, mm²", start: 0, least: 0, most: 100, step: 0.05 },
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

/** What may be wished of a file of shapes: how outlines are followed, and what is beneath them. */
export function VectorChoices({ wanted, onChange, isFull = false }: VectorChoicesProps) {
  const under = wanted.under_layer ?? null;
  const outline = wanted.outline ?? 0;
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
      {number("closeness")}
      {isFull && number("corners")}
      {number("specks")}
      {isFull && number("pinholes")}
      {number("tones")}
      <CheckChoice
        id="drop-paper"
        label="Leave the paper out"
        checked={wanted.drop_paper ?? false}
        onChange={(drop_paper) => onChange({ drop_paper })}
      />
      <CheckChoice
        id="under-layer"
        label="Under-layer for dark cloth"
        checked={under !== null}
        onChange={(isWanted) => onChange({ under_layer: isWanted ? FIRST_UNDER : null })}
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
      {(under !== null || outline > 0) && (
        <div className="number-choice">
          <span>Its colour</span>
          <HexField
            label="Colour beneath"
            value={wanted.under_colour ?? "#ffffff"}
            onChange={(under_colour) => onChange({ under_colour })}
            onTouch={() => undefined}
          />
        </div>
      )}
    </>
  );
}

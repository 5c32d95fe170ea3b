import { useState } from "react";
import { Form, InputGroup } from "react-bootstrap";
import type { Wish } from "../api/client";
import { NumberField } from "./NumberField";

interface SizeChoiceProps {
  wanted: Wish;
  onChange: (change: Partial<Wish>) => void;
}

type Way = "dpi" | "edge" | "photo";

/** How many pixels: by dots an inch, by the long edge, or the photo's own. */
export function SizeChoice({ wanted, onChange }: SizeChoiceProps) {
  const way: Way = wanted.dpi ? "dpi" : wanted.long_edge_px ? "edge" : "photo";
  const dpi = useLast(wanted.dpi, 300);
  const edge = useLast(wanted.long_edge_px, 3000);

  function choose(next: Way) {
    onChange({
      dpi: next === "dpi" ? dpi : null,
      long_edge_px: next === "edge" ? edge : null,
    });
  }

  return (
    <fieldset className="mb-2 size-choice">
      <legend>Pixels</legend>
      <InputGroup size="sm">
        <Form.Check
          type="radio"
          id="by-dpi"
          name="size"
          label="Dots an inch"
          checked={way === "dpi"}
          onChange={() => choose("dpi")}
        />
        <NumberField
          label="Dots an inch"
          value={dpi}
          least={10}
          most={4800}
          onChange={(typed) => onChange({ dpi: typed, long_edge_px: null })}
        />
      </InputGroup>
      <InputGroup size="sm">
        <Form.Check
          type="radio"
          id="by-edge"
          name="size"
          label="Long edge, px"
          checked={way === "edge"}
          onChange={() => choose("edge")}
        />
        <NumberField
          label="Long edge in pixels"
          value={edge}
          least={1}
          most={60000}
          whole
          onChange={(typed) => onChange({ dpi: null, long_edge_px: typed })}
        />
      </InputGroup>
      <Form.Check
        type="radio"
        id="by-photo"
        name="size"
        label="The photo's own pixels"
        checked={way === "photo"}
        onChange={() => choose("photo")}
      />
    </fieldset>
  );
}

/** The number that is wanted now, or was last, or to begin with. */
function useLast(wanted: number | null | undefined, first: number): number {
  const [last, setLast] = useState(wanted ?? first);
  if (wanted && wanted !== last) setLast(wanted);
  return last;
}

import { useState } from "react";
import { Form, InputGroup } from "react-bootstrap";
import type { Wish } from "../api/client";

interface SizeChoiceProps {
  wanted: Wish;
  onChange: (change: Partial<Wish>) => void;
}

type Way = "dpi" | "edge" | "photo";

/** How many pixels: by dots an inch, by the long edge, or the photo's own. */
export function SizeChoice({ wanted, onChange }: SizeChoiceProps) {
  const way: Way = wanted.dpi ? "dpi" : wanted.long_edge_px ? "edge" : "photo";
  const [dpi, setDpi] = useState("300");
  // Another may have been offered and taken.
  const [told, setTold] = useState(wanted.dpi);
  if (wanted.dpi !== told) {
    setTold(wanted.dpi);
    if (wanted.dpi && wanted.dpi !== Number(dpi)) setDpi(String(wanted.dpi));
  }
  const [edge, setEdge] = useState("3000");

  function choose(next: Way) {
    onChange({
      dpi: next === "dpi" ? Number(dpi) || 300 : null,
      long_edge_px: next === "edge" ? Math.round(Number(edge)) || 3000 : null,
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
        <Form.Control
          type="number"
          aria-label="Dots an inch"
          min={10}
          max={4800}
          value={dpi}
          onChange={(event) => {
            setDpi(event.currentTarget.value);
            const typed = Number(event.currentTarget.value);
            if (typed > 0) onChange({ dpi: typed, long_edge_px: null });
          }}
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
        <Form.Control
          type="number"
          aria-label="Long edge in pixels"
          min={1}
          max={60000}
          value={edge}
          onChange={(event) => {
            setEdge(event.currentTarget.value);
            const typed = Math.round(Number(event.currentTarget.value));
            if (typed > 0) onChange({ dpi: null, long_edge_px: typed });
          }}
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

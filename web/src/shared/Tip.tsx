import { useId } from "react";
import { OverlayTrigger, Tooltip } from "react-bootstrap";

interface TipProps {
  words: string;
  side?: "top" | "bottom" | "left" | "right";
  /** The control that the words are about; it takes a ref. */
  children: React.ReactElement<{ "aria-describedby"?: string }>;
}

const WAIT = { show: 350, hide: 0 };

/** A line about a control, while the pointer rests on it or it has the focus. */
export function Tip({ words, side = "bottom", children }: TipProps) {
  const id = useId();
  return (
    <OverlayTrigger
      placement={side}
      delay={WAIT}
      overlay={<Tooltip id={id}>{words}</Tooltip>}
      trigger={["hover", "focus"]}
    >
      {children}
    </OverlayTrigger>
  );
}

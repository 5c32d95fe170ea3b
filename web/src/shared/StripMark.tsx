import { Tip } from "./Tip";

interface StripMarkProps {
  label: string;
  onStrip: () => void;
}

/** The mark that lays a test strip over a dial. */
export function StripMark({ label, onStrip }: StripMarkProps) {
  return (
    <Tip
      words={`Test strip of ${label.toLowerCase()}: the same spot at several values (T)`}
      side="top"
    >
      <button
        type="button"
        className="dial-strip"
        // With the keyboard it is the key T at the dial itself.
        tabIndex={-1}
        aria-label={`Test strip of ${label}`}
        onClick={onStrip}
      >
        <i />
        <i />
        <i />
      </button>
    </Tip>
  );
}

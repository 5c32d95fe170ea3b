import { Button, ButtonGroup } from "react-bootstrap";

interface ZoomButtonsProps {
  isFit: boolean;
  percent: number;
  onFit: () => void;
  onCloser: () => void;
  onFarther: () => void;
  /** One pixel of a file to one of the screen, where there is one. */
  onOneToOne?: () => void;
}

/** How close one looks, over a corner of the sheet. */
export function ZoomButtons(props: ZoomButtonsProps) {
  const { isFit, percent, onFit, onCloser, onFarther, onOneToOne } = props;
  return (
    <ButtonGroup size="sm" className="print-zoom" aria-label="Zoom">
      <Button
        variant="plain"
        aria-label="Farther away"
        title="Farther away (,)"
        onClick={onFarther}
      >
        −
      </Button>
      <Button variant="plain" active={isFit} title="All of it (W)" onClick={onFit}>
        {isFit ? "Whole" : "Zoom"} {percent.toFixed(0)} %
      </Button>
      {onOneToOne && (
        <Button
          variant="plain"
          title="One pixel of the file to one of the screen (E)"
          onClick={onOneToOne}
        >
          1:1
        </Button>
      )}
      <Button variant="plain" aria-label="Closer" title="Closer (.)" onClick={onCloser}>
        +
      </Button>
    </ButtonGroup>
  );
}

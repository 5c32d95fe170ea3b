import { Dropdown } from "react-bootstrap";
import type { Layout } from "./compare";

export interface CompareProps {
  layout: Layout;
  against: string;
  /** Key and words of each thing to compare with. */
  choices: [string, string][];
  onLayout: (layout: Layout) => void;
  onAgainst: (key: string) => void;
}

const WORDS: Record<Layout, string> = { alone: "Compare", split: "Halves", beside: "Beside" };

/** How the drawing is compared, and with what. */
export function CompareMenu(props: CompareProps) {
  const { layout } = props;
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="plain" active={layout !== "alone"}>
        {WORDS[layout]}
      </Dropdown.Toggle>
      <Dropdown.Menu className="compare-menu">
        <CompareItems {...props} />
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** The same, as items of any menu. */
export function CompareItems({ layout, against, choices, onLayout, onAgainst }: CompareProps) {
  return (
    <>
      <Dropdown.Item active={layout === "alone"} onClick={() => onLayout("alone")}>
        The drawing alone
      </Dropdown.Item>
      <Dropdown.Item active={layout === "split"} onClick={() => onLayout("split")}>
        In halves <kbd>H</kbd>
      </Dropdown.Item>
      <Dropdown.Item active={layout === "beside"} onClick={() => onLayout("beside")}>
        Side by side <kbd>B</kbd>
      </Dropdown.Item>
      <Dropdown.Divider />
      <Dropdown.Header>with</Dropdown.Header>
      {choices.map(([key, label]) => (
        <Dropdown.Item key={key} active={against === key} onClick={() => onAgainst(key)}>
          {label}
        </Dropdown.Item>
      ))}
    </>
  );
}

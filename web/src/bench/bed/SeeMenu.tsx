import { Dropdown } from "react-bootstrap";
import type { BarProps } from "../TopBar";
import { CompareItems } from "./CompareMenu";

/** What is shown, how close, and beside what, where the bar has no room for it. */
export function SeeMenu(props: BarProps & { isNarrow: boolean }) {
  const { acts, shown, stageTitle } = props;
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="plain" active={props.layout !== "alone"}>
        See
      </Dropdown.Toggle>
      <Dropdown.Menu className="compare-menu">
        {props.isNarrow && (
          <>
            <Dropdown.Item active={shown === "sheet"} onClick={() => acts.show("sheet")}>
              The sheet
            </Dropdown.Item>
            {stageTitle && (
              <Dropdown.Item active={shown === "stage"} onClick={() => acts.show("stage")}>
                What leaves {stageTitle} <kbd>G</kbd>
              </Dropdown.Item>
            )}
            <Dropdown.Divider />
          </>
        )}
        <Dropdown.Item onClick={acts.exportPixels}>
          Export pixels, 1:1 <kbd>E</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={acts.paperSize}>
          The size on paper <kbd>S</kbd>
        </Dropdown.Item>
        <Dropdown.Item active={props.pinning} onClick={acts.watch}>
          Watch a detail <kbd>O</kbd>
        </Dropdown.Item>
        <Dropdown.Item onClick={acts.only}>
          Only the sheet <kbd>Q</kbd>
        </Dropdown.Item>
        <Dropdown.Divider />
        <CompareItems
          layout={props.layout}
          against={props.against}
          choices={props.choices}
          onLayout={acts.layout}
          onAgainst={acts.against}
        />
      </Dropdown.Menu>
    </Dropdown>
  );
}

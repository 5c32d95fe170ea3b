import { Button, Form } from "react-bootstrap";
import type { Catalogue, PhotoRecord, Sheet } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { asPicture, cutOf, ofCut, paperSize } from "../../sheet/paper";

interface PaperSizeProps {
  cuts: Catalogue["cuts"];
  photo: PhotoRecord;
  sheet: Sheet;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
}

/** The sizes that paper is cut to, or the picture's own shape; upright or across. */
export function PaperSize({ cuts, photo, sheet, onChange }: PaperSizeProps) {
  const { paper } = sheet;
  const now = paperSize(photo, sheet);
  const isAcross = now.width > now.height;
  const cut = cutOf(cuts, paper);

  function take(changed: Sheet["paper"], words: string) {
    onChange({ ...sheet, paper: changed }, `Paper: ${words}`, newGesture());
  }

  function choose(name: string) {
    if (name === "as-picture") {
      take(asPicture(paper, Math.max(now.width, now.height)), "as the picture");
      return;
    }
    const chosen = cuts.find((each) => each.name === name);
    if (chosen) take(ofCut(paper, chosen, isAcross), name);
    else take(ofCut(paper, { ...now, name: "" }, isAcross), "its own size");
  }

  return (
    <div className="paper-size">
      <Form.Select
        size="sm"
        aria-label="Size of the paper"
        value={paper.size === "as-picture" ? "as-picture" : (cut?.name ?? "own")}
        onChange={(event) => choose(event.currentTarget.value)}
      >
        <option value="as-picture">As the picture</option>
        {cuts.map(({ name, width, height }) => (
          <option key={name} value={name}>
            {name}, {width} × {height} mm
          </option>
        ))}
        <option value="own">Its own</option>
      </Form.Select>
      {paper.size === "own" && (
        <Button
          size="sm"
          variant="plain"
          onClick={() => take({ ...paper, width: paper.height, height: paper.width }, "turned")}
        >
          {isAcross ? "Turn upright" : "Turn across"}
        </Button>
      )}
    </div>
  );
}

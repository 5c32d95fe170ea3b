import { useState } from "react";
import { Button, Offcanvas } from "react-bootstrap";
import type { PullRecord } from "../../api/client";
import { DrawnImage } from "../../shared/DrawnImage";
import { leavingKeys } from "../../shared/leavingKeys";
import { whileShown } from "../../shared/whileShown";

interface PullsPanelProps {
  show: boolean;
  sheetId: number;
  pulls: PullRecord[];
  deleted: PullRecord | null;
  onKeep: (name: string) => void;
  onRename: (pull: PullRecord, name: string) => void;
  onGoBack: (pull: PullRecord) => void;
  onCompare: (pull: PullRecord) => void;
  onRemove: (pull: PullRecord) => void;
  onPutBack: () => void;
  onLeave: () => void;
}

/** Kept versions of the sheet with their pictures. */
export const PullsPanel = whileShown(function PullsPanel(props: PullsPanelProps) {
  const { pulls, deleted } = props;
  const [name, setName] = useState("");
  return (
    <Offcanvas
      show={props.show}
      onHide={props.onLeave}
      placement="end"
      aria-labelledby="pulls-title"
      className="pulls"
    >
      <Offcanvas.Header closeButton>
        <Offcanvas.Title as="h2" id="pulls-title">
          Pulls
        </Offcanvas.Title>
      </Offcanvas.Header>
      <Offcanvas.Body>
        <form
          className="pulls-keep"
          onSubmit={(event) => {
            event.preventDefault();
            props.onKeep(name.trim() || `Pull ${pulls.length + 1}`);
            setName("");
          }}
        >
          <input
            className="form-control form-control-sm"
            aria-label="Name of the next pull"
            placeholder={`Pull ${pulls.length + 1}`}
            value={name}
            maxLength={120}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Button size="sm" type="submit">
            Keep a pull
          </Button>
        </form>
        {deleted && (
          <p role="status">
            “{deleted.name}” was deleted.{" "}
            <Button variant="link" className="p-0 align-baseline" onClick={props.onPutBack}>
              Put it back
            </Button>
          </p>
        )}
        {pulls.length === 0 && (
          <p className="soft">
            A pull is the sheet as it is now, kept. Take one before you try something; you can come
            back to it, or lay it beside what comes next.
          </p>
        )}
        <ul>
          {pulls.map((pull) => (
            <li key={pull.id}>
              <DrawnImage
                src={`/api/sheets/${props.sheetId}/pulls/${pull.id}/picture?long_edge_px=320&mark=${pull.mark}`}
                alt={`The sheet at ${pull.name}`}
              />
              <input
                key={pull.name}
                className="pull-name"
                aria-label={`Name of ${pull.name}`}
                defaultValue={pull.name}
                maxLength={120}
                onBlur={(event) => {
                  const typed = event.currentTarget.value.trim();
                  if (typed && typed !== pull.name) props.onRename(pull, typed);
                }}
                onKeyDown={leavingKeys}
              />
              <p className="soft">{new Date(pull.made_at).toLocaleString("en-GB")}</p>
              <div className="book-acts">
                <Button variant="link" onClick={() => props.onGoBack(pull)}>
                  go back to it
                </Button>
                <Button variant="link" onClick={() => props.onCompare(pull)}>
                  compare
                </Button>
                <Button
                  variant="link"
                  className="card-remove"
                  aria-label={`delete ${pull.name}`}
                  onClick={() => props.onRemove(pull)}
                >
                  delete
                </Button>
              </div>
            </li>
          ))}
        </ul>
      </Offcanvas.Body>
    </Offcanvas>
  );
});

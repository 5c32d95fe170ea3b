import { Button, ProgressBar } from "react-bootstrap";
import { Link } from "react-router";
import type { EditionRecord, EntryRecord, Running } from "../api/client";
import { DrawnImage } from "../shared/DrawnImage";
import { PhotoWords } from "../shared/PhotoWords";
import { useRoving } from "../shared/roving";

interface EntryCardsProps {
  record: EditionRecord;
  run: Running;
  onLeaveOut: (entry: EntryRecord, leftOut: boolean) => void;
  onAdjust: (entry: EntryRecord) => void;
  onAsOthers: (entry: EntryRecord) => void;
  onAgain: (entry: EntryRecord) => void;
}

/** Every photo of an edition as it will be, and what became of its file. */
export function EntryCards({ record, run, ...acts }: EntryCardsProps) {
  const roving = useRoving<HTMLUListElement>();
  return (
    <ul className="edition-cards" aria-label="Photos of the edition" {...roving}>
      {record.entries.map((entry) => (
        <EntryCard
          key={entry.id}
          edition={record.id}
          entry={entry}
          share={run.shares[entry.id]}
          {...acts}
        />
      ))}
    </ul>
  );
}

interface EntryCardProps extends Omit<EntryCardsProps, "record" | "run"> {
  edition: number;
  entry: EntryRecord;
  /** How far its file is, 0..1, while it is made. */
  share: number | undefined;
}

function EntryCard({
  edition,
  entry,
  share,
  onLeaveOut,
  onAdjust,
  onAsOthers,
  onAgain,
}: EntryCardProps) {
  const isOut = entry.state === "left-out";
  const address = `/api/editions/${edition}/entries/${entry.id}`;
  return (
    <li
      className={`edition-card ${isOut ? "is-out" : ""}`}
      data-state={share === undefined ? entry.state : "running"}
      aria-label={entry.title}
    >
      <div className="edition-picture">
        {entry.mark ? (
          <DrawnImage
            src={`${address}/picture?long_edge_px=420&mark=${entry.mark}`}
            alt={`${entry.title}, as it will be`}
          />
        ) : (
          <p>No picture</p>
        )}
      </div>
      <PhotoWords photo={{ id: entry.photo, title: entry.title, caption: entry.caption }}>
        {(rename) => (
          <div className="card-line">
            <h3 title={entry.name}>{entry.name || entry.title}</h3>
            {rename}
          </div>
        )}
      </PhotoWords>
      <div className="edition-state">
        {share !== undefined ? (
          <ProgressBar now={share * 100} aria-label={`${entry.title} being drawn`} />
        ) : (
          <StateWords entry={entry} address={address} onAgain={() => onAgain(entry)} />
        )}
      </div>
      <div className="edition-acts">
        {entry.sheet ? (
          <>
            <Link to={`/sheets/${entry.sheet}`}>its own sheet</Link>
            <Button variant="link" onClick={() => onAsOthers(entry)}>
              as the others
            </Button>
          </>
        ) : (
          !isOut && (
            <Button
              variant="link"
              aria-label={`adjust this one: ${entry.title}`}
              disabled={!entry.mark}
              onClick={() => onAdjust(entry)}
            >
              adjust this one
            </Button>
          )
        )}
        <Button
          variant="link"
          className="card-remove"
          aria-label={`${isOut ? "take in" : "leave out"} ${entry.title}`}
          onClick={() => onLeaveOut(entry, !isOut)}
        >
          {isOut ? "take in" : "leave out"}
        </Button>
      </div>
    </li>
  );
}

interface StateWordsProps {
  entry: EntryRecord;
  address: string;
  onAgain: () => void;
}

function StateWords({ entry, address, onAgain }: StateWordsProps) {
  if (entry.state === "left-out") return <span className="soft">left out</span>;
  if (entry.trouble) {
    return (
      <span className="edition-fault" role="alert">
        ▲ {entry.trouble}{" "}
        {entry.state === "failed" && (
          <Button variant="link" aria-label={`draw ${entry.title} again`} onClick={onAgain}>
            again
          </Button>
        )}
      </span>
    );
  }
  if (entry.state === "done") {
    return (
      <span>
        <a href={`${address}/file`} download={entry.name}>
          drawn
        </a>
        <span className="soft"> in {entry.seconds.toFixed(1)} s</span>
      </span>
    );
  }
  return <span className="soft">to be drawn</span>;
}

import { useEffect, useRef } from "react";
import { CloseButton, ProgressBar } from "react-bootstrap";
import { Link } from "react-router";
import { useFading } from "./useFading";
import type { Upload } from "./useUploads";

interface UploadListProps {
  uploads: Upload[];
  onDismiss: () => void;
}

/** What became of the files that were brought in, gathered in one note, with the next step. */
export function UploadList({ uploads, onDismiss }: UploadListProps) {
  const waiting = uploads.filter((each) => each.state === "waiting");
  const failed = uploads.filter((each) => each.state === "failed");
  const ready = uploads.filter((each) => each.state === "ready");
  const isOver = uploads.length > 0 && waiting.length === 0;
  const words = isOver ? readyWords(ready) : "";
  // What went wrong stays until it is put away.
  const fading = useFading(failed.length === 0 ? words : "", onDismiss);
  const next = useRef<HTMLAnchorElement>(null);
  const only = isOver && ready.length === 1 ? ready[0] : undefined;
  useEffect(() => {
    if (only && document.activeElement === document.body) next.current?.focus();
  }, [only]);
  return (
    <div className="uploads" aria-live="polite">
      {uploads.length > 0 && (
        <div className={failed.length > 0 ? "uploads-note failed" : "uploads-note"} {...fading}>
          {waiting.length > 0 && (
            <>
              <p>
                <strong>{waiting[0]!.name}</strong> is coming in
                {uploads.length > 1 &&
                  `: ${uploads.length - waiting.length + 1} of ${uploads.length}`}
                …
              </p>
              <ProgressBar
                now={uploads.length - waiting.length}
                max={uploads.length}
                aria-label="Files brought in"
              />
            </>
          )}
          {isOver && (
            <>
              {words && (
                <p>
                  {words}{" "}
                  {only?.leads && (
                    <Link ref={next} to={only.leads}>
                      {only.leads.startsWith("/sheets") ? "Open it" : "Draw it"}
                    </Link>
                  )}
                </p>
              )}
              <CloseButton aria-label="Put this note away" onClick={onDismiss} />
            </>
          )}
          {ready
            .filter((each) => each.sentence)
            .map((each) => (
              <p key={each.key} className="soft">
                {each.name}: {each.sentence}
              </p>
            ))}
          {failed.map((each) => (
            <p key={each.key} role="alert">
              <strong>{each.name}</strong> was left out. {each.sentence}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

function readyWords(ready: Upload[]): string {
  if (ready.length === 0) return "";
  if (ready.length === 1) return `${ready[0]!.name} is on the shelf.`;
  return `${ready.length} files are on the shelf. They stand first; press one to draw it.`;
}

import { CloseButton, Spinner } from "react-bootstrap";
import type { Upload } from "./useUploads";

interface UploadListProps {
  uploads: Upload[];
  onDismiss: (key: number) => void;
}

/** What became of each file that was brought in. */
export function UploadList({ uploads, onDismiss }: UploadListProps) {
  if (uploads.length === 0) return null;
  return (
    <ul className="uploads" aria-label="Files being brought in" aria-live="polite">
      {uploads.map((upload) => (
        <li key={upload.key} className={upload.state}>
          {upload.state === "waiting" && <Spinner size="sm" aria-hidden="true" />}
          <strong>{upload.name}</strong> {WORDS[upload.state]} {upload.sentence}
          {upload.state !== "waiting" && (
            <CloseButton
              aria-label={`Dismiss the note about ${upload.name}`}
              onClick={() => onDismiss(upload.key)}
            />
          )}
        </li>
      ))}
    </ul>
  );
}

const WORDS = { waiting: "is coming in…", ready: "is on the shelf.", failed: "was left out." };

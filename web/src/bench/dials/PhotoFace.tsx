import { Button } from "react-bootstrap";
import type { PhotoRecord } from "../../api/client";

interface PhotoFaceProps {
  photo: PhotoRecord;
  onOtherPhoto: () => void;
}

/** What is known of the photo, and how another one comes under the sheet. */
export function PhotoFace({ photo, onOtherPhoto }: PhotoFaceProps) {
  return (
    <>
      <p>
        <strong>{photo.title}</strong>
        <br />
        {photo.width.toLocaleString("en-GB")} × {photo.height.toLocaleString("en-GB")} px,{" "}
        {photo.format}. {photo.notes.join(" ")}
      </p>
      <p>
        <Button size="sm" variant="plain" onClick={onOtherPhoto}>
          Another photo under this sheet…
        </Button>
      </p>
    </>
  );
}

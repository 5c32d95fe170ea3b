import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { PhotoRecord } from "../../api/client";
import { usePhotos } from "../../api/queries";
import { photoChoice, PictureDialog } from "../../shared/PictureDialog";
import { whileShown } from "../../shared/whileShown";

interface OtherPhotoProps {
  show: boolean;
  present: string;
  onChoose: (photo: PhotoRecord, tones: "matched" | "numbers") => void;
  onLeave: () => void;
}

/** Puts another photo under the finished sheet. */
export const OtherPhoto = whileShown(function OtherPhoto({
  show,
  present,
  onChoose,
  onLeave,
}: OtherPhotoProps) {
  const photos = usePhotos(show);
  const [isMatched, setMatched] = useState(true);
  const others = photos.data?.filter((photo) => photo.id !== present);
  const tones = isMatched ? "matched" : "numbers";
  return (
    <PictureDialog
      show={show}
      title="Another photo under this sheet"
      choices={others?.map((photo) => photoChoice(photo, () => onChoose(photo, tones)))}
      none={
        <>
          There is no other photo yet. <Link to="/">Bring one in on the shelf.</Link>
        </>
      }
      onLeave={onLeave}
    >
      <p>
        Plates, inks and paper stay. Dials that stand at a value suggested for the photo are fitted
        to the new one; dials you have set keep their values.
      </p>
      <Form.Check
        id="swap-matched"
        className="mb-3"
        label="Match its tones: black, middle and white come to where they are now"
        checked={isMatched}
        onChange={(event) => setMatched(event.currentTarget.checked)}
      />
    </PictureDialog>
  );
});

import { Link } from "react-router";
import type { PhotoRecord } from "../../api/client";
import { usePhotos } from "../../api/queries";
import { photoChoice, PictureDialog } from "../../shared/PictureDialog";
import { whileShown } from "../../shared/whileShown";

interface ChoosePhotoProps {
  show: boolean;
  onChoose: (photo: PhotoRecord) => void;
  onLeave: () => void;
}

/** Chooses a photo from the shelf for a plate of its own. */
export const ChoosePhoto = whileShown(function ChoosePhoto({
  show,
  onChoose,
  onLeave,
}: ChoosePhotoProps) {
  const photos = usePhotos(show);
  return (
    <PictureDialog
      show={show}
      title="A photo for this plate"
      choices={photos.data?.map((photo) => photoChoice(photo, () => onChoose(photo)))}
      none={
        <>
          There is no photo here yet. <Link to="/">Bring one in on the shelf.</Link>
        </>
      }
      onLeave={onLeave}
    />
  );
});

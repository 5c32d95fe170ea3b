import { useState } from "react";
import { Button } from "react-bootstrap";
import { usePhotos } from "../api/queries";
import { photoChoice, PictureDialog } from "../shared/PictureDialog";

interface ChoosePhotosProps {
  show: boolean;
  /** Ids of the photos that are in the edition already. */
  present: Set<string>;
  onChoose: (photos: string[]) => void;
  onLeave: () => void;
}

/** Chooses many photos of the shelf at once. */
export function ChoosePhotos({ show, present, onChoose, onLeave }: ChoosePhotosProps) {
  const photos = usePhotos(show);
  const [chosen, setChosen] = useState<string[]>([]);
  const others = photos.data?.filter((photo) => !present.has(photo.id));
  const ids = (others ?? []).map((photo) => photo.id);
  const wanted = chosen.filter((id) => ids.includes(id));
  const toggle = (id: string) =>
    setChosen((now) => (now.includes(id) ? now.filter((each) => each !== id) : [...now, id]));
  return (
    <PictureDialog
      show={show}
      title="Photos from the shelf"
      choices={others?.map((photo) => ({
        ...photoChoice(photo, () => toggle(photo.id)),
        isChosen: wanted.includes(photo.id),
      }))}
      none="Every photo of the shelf is in the edition."
      footer={
        <>
          <Button variant="plain" onClick={() => setChosen(ids)}>
            Choose all {ids.length}
          </Button>
          <Button disabled={wanted.length === 0} onClick={() => onChoose(wanted)}>
            Bring in {wanted.length || ""}
          </Button>
        </>
      }
      onLeave={onLeave}
    />
  );
}

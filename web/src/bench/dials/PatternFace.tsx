import { useState } from "react";
import { Button } from "react-bootstrap";
import { usePhotos } from "../../api/queries";
import { ChoosePhoto } from "../placing/ChoosePhoto";

interface PatternFaceProps {
  /** The id of the photo that is the dot; "" for the plate's own. */
  pattern: string;
  onTake: (pattern: string, words: string) => void;
}

/** Which picture the dots of a screen are. */
export function PatternFace({ pattern, onTake }: PatternFaceProps) {
  const [isChoosing, setChoosing] = useState(false);
  const photos = usePhotos();
  const present = photos.data?.find((photo) => photo.id === pattern);
  return (
    <div className="source-acts">
      <span>
        Dots are{" "}
        <strong>{pattern ? (present?.title ?? "another photo") : "the photo itself"}</strong>, from
        its middle.
      </span>
      <Button size="sm" variant="plain" onClick={() => setChoosing(true)}>
        Another picture…
      </Button>
      {pattern && (
        <Button size="sm" variant="plain" onClick={() => onTake("", "the photo itself")}>
          The photo itself
        </Button>
      )}
      <ChoosePhoto
        show={isChoosing}
        onLeave={() => setChoosing(false)}
        onChoose={(photo) => {
          setChoosing(false);
          onTake(photo.id, photo.title);
        }}
      />
    </div>
  );
}

import { useQueryClient } from "@tanstack/react-query";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { PhotoRecord } from "../api/client";
import { guessesAsked, recipesAsked } from "../api/queries";
import { PhotoWords } from "../shared/PhotoWords";
import { CardTitle } from "./CardTitle";

interface PhotoCardProps {
  photo: PhotoRecord;
  /** Whether it is one of several that are chosen. */
  isChosen: boolean;
  onChosen: (chosen: boolean) => void;
  onRemove: () => void;
}

/** A photo on the shelf; its picture leads to the contact sheet. */
export function PhotoCard({ photo, isChosen, onChosen, onRemove }: PhotoCardProps) {
  const queries = useQueryClient();

  /** What the contact sheet begins with is fetched while the hand is still on its way. */
  function prepare() {
    void queries.prefetchQuery(guessesAsked(photo.id));
    void queries.prefetchQuery(recipesAsked);
  }

  return (
    <li className={`photo-card ${isChosen ? "is-chosen" : ""}`}>
      <Link
        className="picture-button"
        to={`/photos/${photo.id}/contact`}
        onPointerEnter={prepare}
        onFocus={prepare}
      >
        <img
          src={`/api/photos/${photo.id}/picture?long_edge_px=640`}
          alt={photo.caption || photo.title}
          loading="lazy"
        />
        <span className="picture-action">Draw this</span>
      </Link>
      <Form.Check
        className="photo-choice"
        aria-label={`choose ${photo.title} for an edition`}
        title="Choose several for an edition"
        checked={isChosen}
        onChange={(event) => onChosen(event.currentTarget.checked)}
      />
      <PhotoWords photo={photo}>
        {(rename) => (
          <>
            <CardTitle title={photo.title} onRemove={onRemove} />
            <p>
              {photo.caption} {rename}
            </p>
          </>
        )}
      </PhotoWords>
      <p className="soft">
        {photo.width} × {photo.height} px, {photo.format}
        {photo.notes.map((note) => ` · ${note}`)}
      </p>
    </li>
  );
}

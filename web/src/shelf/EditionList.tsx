import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { EditionCard } from "../api/client";
import { useRoving } from "../shared/roving";

/** So many of its photos stand for an edition. */
const SHOWN = 6;

interface EditionListProps {
  editions: EditionCard[];
  onRemove: (edition: EditionCard) => void;
}

/** Editions on the shelf: their photos, and how many files are drawn. */
export function EditionList({ editions, onRemove }: EditionListProps) {
  const roving = useRoving<HTMLUListElement>();
  return (
    <section aria-labelledby="editions-title" data-area="the editions">
      <h2 id="editions-title">
        Editions <span className="soft">{editions.length}</span>
      </h2>
      <ul className="shelf-editions" {...roving}>
        {editions.map((edition) => (
          <li key={edition.id}>
            <Link to={`/editions/${edition.id}`} aria-label={`Edition: ${edition.title}`}>
              <span className="edition-strip">
                {edition.photos.slice(0, SHOWN).map((photo) => (
                  <img
                    key={photo}
                    src={`/api/photos/${photo}/picture?long_edge_px=320`}
                    alt=""
                    loading="lazy"
                  />
                ))}
              </span>
              <strong>{edition.title}</strong>
            </Link>
            <span className="soft">
              {edition.photos.length} photos, {edition.done} drawn
            </span>
            <Button
              variant="link"
              size="sm"
              className="card-remove"
              aria-label={`remove ${edition.title} from the shelf`}
              onClick={() => onRemove(edition)}
            >
              remove
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

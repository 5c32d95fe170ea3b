import { Button } from "react-bootstrap";

interface CardTitleProps {
  title: string;
  onRemove: () => void;
}

/** What a card of the shelf is called, and the way to take it off. */
export function CardTitle({ title, onRemove }: CardTitleProps) {
  return (
    <div className="card-line">
      <h3>{title}</h3>
      <Button
        variant="link"
        size="sm"
        className="card-remove"
        aria-label={`remove ${title} from the shelf`}
        onClick={onRemove}
      >
        remove
      </Button>
    </div>
  );
}

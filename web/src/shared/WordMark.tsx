import { Link } from "react-router";

/** The word mark, which leads to the shelf. */
export function WordMark() {
  return (
    <Link to="/" className="word-mark" aria-label="Flinz, to the shelf">
      Fl<span>i</span>nz
    </Link>
  );
}

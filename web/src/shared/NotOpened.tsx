import { Link } from "react-router";
import { Trouble } from "./Trouble";

/** A page that could not be opened: why, and where else to go. */
export function NotOpened({
  sentence,
  children,
}: {
  sentence: string;
  children?: React.ReactNode;
}) {
  return (
    <main className="waiting">
      <Trouble sentence={sentence}>{children}</Trouble>
      <Link to="/">Back to the shelf</Link>
    </main>
  );
}

/** A sentence about something that went wrong, and perhaps a way on. */
export function Trouble({ sentence, children }: { sentence: string; children?: React.ReactNode }) {
  return (
    <div className="trouble" role="alert">
      <span aria-hidden="true">▲ </span>
      {sentence} {children}
    </div>
  );
}

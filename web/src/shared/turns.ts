/** Turns taken by what is slow, so that a browser's few connections are never all held by it. */
const AT_ONCE = 3;

const waiting: (() => void)[] = [];
let running = 0;

/** Call `begin` once it is one's turn; what is returned ends the turn, or the waiting for it. */
export function takeTurn(begin: () => void): () => void {
  let begun = false;
  const start = () => {
    begun = true;
    running += 1;
    begin();
  };
  if (running < AT_ONCE) start();
  else waiting.push(start);
  let over = false;
  return () => {
    if (over) return;
    over = true;
    if (!begun) waiting.splice(waiting.indexOf(start), 1);
    else {
      running -= 1;
      waiting.shift()?.();
    }
  };
}

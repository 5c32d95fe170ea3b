import { useEffect, useRef, useState } from "react";
import { takeTurn } from "./turns";

/** How long until a picture that did not come is asked for again, at first and at most. */
const [FIRST_MS, MOST_MS] = [1500, 6000];
const TRIES = 40;
/** How far below what is seen a picture is asked for already. */
const AHEAD = "300px";

type DrawnImageProps = Omit<
  React.ComponentPropsWithoutRef<"img">,
  "src" | "loading" | "onError" | "onLoad"
> & { src: string };

/**
 * A picture that the server draws, asked for once it is in sight and its turn has come. On a fresh
 * machine it comes once it can be drawn.
 */
export function DrawnImage({ src, ...rest }: DrawnImageProps) {
  const image = useRef<HTMLImageElement>(null);
  const [failed, setFailed] = useState(0);
  const [tries, setTries] = useState(0);
  useEffect(() => {
    if (failed === 0 || failed > TRIES) return;
    const wait = Math.min(MOST_MS, FIRST_MS * failed);
    const timer = window.setTimeout(() => setTries(failed), wait);
    return () => window.clearTimeout(timer);
  }, [failed]);
  const address = tries === 0 ? src : `${src}${src.includes("?") ? "&" : "?"}try=${tries}`;

  useEffect(() => {
    const shown = image.current;
    if (!shown) return;
    let over: (() => void) | undefined;
    const ends = () => over?.();
    shown.addEventListener("load", ends);
    shown.addEventListener("error", ends);
    const leave = whenSeen(shown, () => {
      over = takeTurn(() => shown.setAttribute("src", address));
    });
    return () => {
      leave();
      ends();
      shown.removeEventListener("load", ends);
      shown.removeEventListener("error", ends);
      // A browser goes on waiting for a picture that was taken off the page, and holds one of its
      // few connections for it.
      if (!shown.isConnected) shown.removeAttribute("src");
    };
  }, [address]);

  return (
    <img
      {...rest}
      ref={image}
      onError={(event) => {
        // What is still to come is bare, and not broken.
        event.currentTarget.removeAttribute("src");
        setFailed((count) => count + 1);
      }}
    />
  );
}

/** Call once an element is in sight or nearly so; what is returned stops looking. */
function whenSeen(element: Element, seen: () => void): () => void {
  if (typeof IntersectionObserver === "undefined") {
    seen();
    return () => undefined;
  }
  const look = new IntersectionObserver(
    (entries) => {
      if (!entries.some((entry) => entry.isIntersecting)) return;
      look.disconnect();
      seen();
    },
    { rootMargin: AHEAD },
  );
  look.observe(element);
  return () => look.disconnect();
}

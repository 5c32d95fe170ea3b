import { useEffect, useState } from "react";

/** How long until a picture that did not come is asked for again, at first and at most. */
const [FIRST_MS, MOST_MS] = [1500, 6000];
const TRIES = 40;

type DrawnImageProps = Omit<React.ComponentPropsWithoutRef<"img">, "src" | "onError"> & {
  src: string;
};

/** A picture that the server draws. On a fresh machine it comes once it can be drawn. */
export function DrawnImage({ src, ...rest }: DrawnImageProps) {
  const [failed, setFailed] = useState(0);
  const [tries, setTries] = useState(0);
  useEffect(() => {
    if (failed === 0 || failed > TRIES) return;
    const wait = Math.min(MOST_MS, FIRST_MS * failed);
    const timer = window.setTimeout(() => setTries(failed), wait);
    return () => window.clearTimeout(timer);
  }, [failed]);
  const address = tries === 0 ? src : `${src}${src.includes("?") ? "&" : "?"}try=${tries}`;
  return <img {...rest} src={address} onError={() => setFailed((count) => count + 1)} />;
}

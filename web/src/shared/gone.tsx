import { useState } from "react";
import { Button } from "react-bootstrap";

/** What was taken from a list, and where in it that stood. */
interface Gone<T> {
  item: T;
  place: number;
}

/** What was taken from a list since the page was opened, to be put back where it was. */
export function useGone<T>(keyOf: (item: T) => string | number) {
  const [gone, setGone] = useState<Gone<T>[]>([]);
  const isSame = (one: T, other: T) => keyOf(one) === keyOf(other);

  return {
    took: (item: T, list: T[]) => {
      const place = list.findIndex((each) => isSame(each, item));
      setGone((present) => [
        ...present.filter((each) => !isSame(each.item, item)),
        { item, place },
      ]);
    },
    back: (item: T) => setGone((present) => present.filter((each) => !isSame(each.item, item))),
    /** The list with what is gone where it was. */
    among: (list: T[]) => withGone(list, gone, isSame),
  };
}

/** A list with what was taken from it where it stood. */
export function withGone<T>(
  list: T[],
  gone: Gone<T>[],
  isSame: (one: T, other: T) => boolean,
): { item: T; isGone: boolean }[] {
  const all = list.map((item) => ({ item, isGone: false }));
  const away = gone.filter(({ item }) => !list.some((each) => isSame(each, item)));
  for (const { item, place } of away.toSorted((one, other) => one.place - other.place)) {
    all.splice(Math.min(place, all.length), 0, { item, isGone: true });
  }
  return all;
}

interface GoneWordsProps {
  title: string;
  /** What became of it. */
  words: string;
  onBack: () => void;
}

/** Stands where something was, with the way to put it back. */
export function GoneWords({ title, words, onBack }: GoneWordsProps) {
  return (
    <p className="gone" role="status">
      “{title}” {words}{" "}
      <Button variant="link" className="p-0 align-baseline" autoFocus onClick={onBack}>
        Put it back
      </Button>
    </p>
  );
}

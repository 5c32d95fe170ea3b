import { memo } from "react";
import { type KeyName, type TracingKey, useHeldKey, useKey } from "../shared/keys";

/** What each key of the bench does; the page of keys is shown by itself. */
type Actions = Record<
  Exclude<KeyName, "photo" | "help" | "area" | "areaBefore" | TracingKey>,
  () => void
>;

interface BenchKeysProps {
  /** Steady, as is onPhoto: to bind two dozen keys with every move of a dial takes a while. */
  keys: Actions;
  onPhoto: (held: boolean) => void;
}

/** Binds the keys of the bench; shows nothing. */
export const BenchKeys = memo(function BenchKeys({ keys, onPhoto }: BenchKeysProps) {
  useHeldKey("photo", onPhoto);
  useKey("fit", keys.fit);
  useKey("exportPixels", keys.exportPixels);
  useKey("paperSize", keys.paperSize);
  useKey("closer", keys.closer);
  useKey("farther", keys.farther);
  useKey("split", keys.split);
  useKey("beside", keys.beside);
  useKey("strip", keys.strip);
  useKey("watch", keys.watch);
  useKey("lost", keys.lost);
  useKey("keepPull", keys.keepPull);
  useKey("pulls", keys.pulls);
  useKey("direction", keys.direction);
  useKey("nextPlate", keys.nextPlate);
  useKey("hidePlate", keys.hidePlate);
  useKey("undo", keys.undo);
  useKey("redo", keys.redo);
  useKey("earlier", keys.earlier);
  useKey("later", keys.later);
  useKey("find", keys.find);
  useKey("suggest", keys.suggest);
  useKey("hand", keys.hand);
  useKey("seen", keys.seen);
  useKey("only", keys.only);
  useKey("large", keys.large);
  useKey("leave", keys.leave);
  return null;
});

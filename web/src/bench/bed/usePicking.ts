import { useState } from "react";
import { answered, client, type DialSpec, type Pull } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { rememberInk } from "../../shared/recentInks";
import { type Settings, settingsOf, stepOf, withSettings } from "../../sheet/stages";
import type { Choosing } from "../choosing/useChoosing";
import { pulledAt } from "../dials/ring";
import type { TheBench } from "../theBench";
import type { Looking } from "./useLooking";

/** A colour that is pulled lighter or darker, for as long as the pointer holds it. */
export interface Held {
  hue: number;
  colour: string;
  gesture: string;
  before: Pull[];
}

/** Taking a colour from the photo or the sheet: for an ink, or to pull it on the ring of hues. */
export function usePicking(
  { id, work, sheet, catalogue }: TheBench,
  choosing: Choosing,
  looking: Looking,
  say: (words: string) => void,
) {
  const [dial, setDial] = useState<DialSpec | null>(null);
  const [of, setOf] = useState<"photo" | "sheet">("photo");
  const { plate, step } = choosing;
  const { holdPhoto, setShown } = looking;

  function look(at: "photo" | "sheet") {
    setOf(at);
    holdPhoto(at === "photo");
  }

  function ask(wanted: DialSpec) {
    setDial(wanted);
    look("photo");
    // A hue is pulled to see what becomes of its grey.
    if (wanted.kind === "ring") setShown("stage");
  }

  function leave() {
    if (!dial) return;
    setDial(null);
    holdPhoto(false);
  }

  async function colourAt(x: number, y: number) {
    await work.flush();
    const params = { path: { sheet_id: id } };
    return answered(
      client.POST("/api/sheets/{sheet_id}/colour-at", { params, body: { x, y, of } }),
    );
  }

  function set(value: unknown, words: string, gesture: string) {
    const settings = settingsOf(sheet, plate, step);
    const next: Settings = { ...settings, [dial!.name]: value };
    const { title } = stepOf(catalogue, step);
    work.change(withSettings(sheet, plate.id, step, next), `${title}: ${words}`, gesture);
  }

  /** Take the colour of a place; of a hue, what is held until the pointer lets go. */
  async function press(x: number, y: number): Promise<Held | null> {
    if (!dial) return null;
    let found;
    try {
      found = await colourAt(x, y);
    } catch (error) {
      work.setTrouble((error as Error).message);
      return null;
    }
    if (dial.kind !== "ring") {
      rememberInk(found.colour);
      set(found.colour, `${dial.label} ${found.colour}`, newGesture());
      leave();
      return null;
    }
    if (found.hue === null) {
      say("What is grey there stays grey: only colours can be pulled.");
      return null;
    }
    holdPhoto(false);
    const before = (settingsOf(sheet, plate, step)[dial.name] ?? []) as Pull[];
    return { hue: found.hue!, colour: found.colour, gesture: newGesture(), before };
  }

  function pull(held: Held, by: number) {
    const points = pulledAt(held.before, held.hue, by, dial!.maximum);
    if (points) set(points, `pull a colour ${by < 0 ? "darker" : "lighter"}`, held.gesture);
    else say(`A ring has up to ${dial!.maximum} points. Take one away first.`);
  }

  return {
    dial,
    of,
    look,
    ask,
    leave,
    press,
    pull,
    /** After a pull the photo shows again, for the next colour. */
    rest: () => dial && look("photo"),
  };
}

export type Picking = ReturnType<typeof usePicking>;

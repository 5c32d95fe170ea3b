import { useCallback, useEffect, useRef, useState } from "react";

type Message = { kind: "ask" | "held" | "take" | "given"; from: string };

const GIVE_UP_MS = 1500;

/**
 * Which of this browser's tabs works on a sheet. The first one holds it; a later one is told, and
 * can take it over: then the first saves what it has, gives it up, and is told.
 */
export function useHolder(id: number, save: () => Promise<void>, load: () => Promise<void>) {
  const [isElsewhere, setElsewhere] = useState(false);
  const elsewhere = useRef(false);
  const own = useRef(crypto.randomUUID());
  const channel = useRef<BroadcastChannel | null>(null);
  const latest = useRef({ save, load });
  useEffect(() => {
    latest.current = { save, load };
  }, [save, load]);

  const become = useCallback((value: boolean) => {
    elsewhere.current = value;
    setElsewhere(value);
  }, []);

  useEffect(() => {
    const fresh = new BroadcastChannel(`flinz-sheet-${id}`);
    channel.current = fresh;
    const say = (kind: Message["kind"]) => fresh.postMessage({ kind, from: own.current });
    fresh.onmessage = async (event: MessageEvent<Message>) => {
      switch (event.data.kind) {
        case "ask":
          if (!elsewhere.current) say("held");
          break;
        case "held":
          become(true);
          break;
        case "take":
          if (elsewhere.current) break;
          become(true);
          await latest.current.save();
          say("given");
          break;
        case "given":
          if (!elsewhere.current) await latest.current.load();
          break;
      }
    };
    say("ask");
    return () => fresh.close();
  }, [id, become]);

  const takeOver = useCallback(() => {
    become(false);
    channel.current?.postMessage({ kind: "take", from: own.current });
    // The other tab may be asleep; what it had saved by then is loaded.
    window.setTimeout(() => void latest.current.load(), GIVE_UP_MS);
  }, [become]);

  return { isElsewhere, takeOver };
}

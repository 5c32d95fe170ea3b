import { useCallback, useEffect, useRef, useState } from "react";

/** A tab that does not give a sheet up within this is asleep, and what it holds is taken. */
const GIVE_UP_MS = 1500;

/**
 * Which of this browser's tabs works on a sheet: the one that holds its lock. A later one waits, and
 * gets it when the first is closed or, when it asks, as soon as the first has saved what it has.
 * Where a browser has no locks (a page that is not served securely) every tab works; the server
 * refuses what is not based on the newest version.
 */
export function useHolder(id: number, save: () => Promise<unknown>, load: () => Promise<void>) {
  const [isElsewhere, setElsewhere] = useState(false);
  const latest = useRef({ save, load });
  const take = useRef<() => void>(() => {});
  useEffect(() => {
    latest.current = { save, load };
  }, [save, load]);

  useEffect(() => {
    const { locks } = navigator;
    if (!locks) return undefined;
    const name = `flinz-sheet-${id}`;
    const channel = new BroadcastChannel(name);
    let over = false;
    let waiting = new AbortController();
    let letGo: (() => void) | null = null;
    let patience: number | undefined;

    /** Hold the lock until it is let go. */
    async function hold(isFirst: boolean): Promise<void> {
      window.clearTimeout(patience);
      // What the other tab saved comes first; until it is here nothing can be changed.
      if (!isFirst) await latest.current.load();
      if (over) return;
      setElsewhere(false);
      await new Promise<void>((resolve) => {
        letGo = resolve;
      });
      letGo = null;
    }

    function request(options: LockOptions, isFirst = false) {
      const granted = async (lock: Lock | null) => {
        if (lock) await hold(isFirst);
        else if (!over) wait();
      };
      locks.request(name, options, granted).catch(() => {
        // It was no longer waited for, or it was held and another tab took it.
        if (letGo === null || over) return;
        letGo = null;
        wait();
      });
    }

    /** Wait until no other tab holds the lock. */
    function wait() {
      setElsewhere(true);
      waiting = new AbortController();
      request({ signal: waiting.signal });
    }

    async function giveUp() {
      if (!letGo) return;
      setElsewhere(true);
      await latest.current.save();
      letGo?.();
      if (!over) wait();
    }

    take.current = () => {
      channel.postMessage("wanted");
      patience = window.setTimeout(() => {
        waiting.abort();
        request({ steal: true });
      }, GIVE_UP_MS);
    };
    channel.onmessage = () => void giveUp();
    request({ ifAvailable: true }, true);
    return () => {
      over = true;
      window.clearTimeout(patience);
      waiting.abort();
      letGo?.();
      channel.close();
    };
  }, [id]);

  const takeOver = useCallback(() => take.current(), []);
  return { isElsewhere, takeOver };
}

export type Holder = ReturnType<typeof useHolder>;

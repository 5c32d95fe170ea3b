import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Answer, Placing, SaidStroke, Sheet, View } from "../api/client";
import { type Picture, Pictures } from "./pictures";

const RECONNECT_MS = 1000;

/** What the server says besides pictures. */
interface Said {
  view?: string;
  problem: string;
  later?: boolean;
  placing?: Placing;
}

export interface Live {
  pictures: Pictures;
  connected: boolean;
  problem: string;
  /** Very many marks that are being placed for the newest ask, or whose placing was stopped. */
  placing: (Placing & { isStopped: boolean }) | null;
  stopPlacing: () => void;
  /** Place them after all. */
  placeThem: () => void;
}

/** Tells a listener of each change of a sheet, at once; returns what ends that. */
export type Hear = (listener: (sheet: Sheet) => void) => () => void;

/** What is asked for. */
interface Asked {
  ask: number;
  sheet: Sheet;
  unfinished: SaidStroke | null;
  views: View[];
}

/**
 * Pictures of a sheet from the live connection. Whenever the sheet or the views change, they are
 * asked for again; the newest position wins, and old pictures stay until new ones come. Without a
 * sheet there is no connection. unfinished: a stroke that is being made, drawn and kept nowhere.
 * hear: tells of changes before the page is drawn anew for them, so that the sheet is drawn
 * meanwhile.
 */
export function useLive(
  sheet: Sheet | null,
  views: View[],
  unfinished: SaidStroke | null = null,
  hear: Hear | null = null,
): Live {
  const [pictures] = useState(() => new Pictures());
  const [connected, setConnected] = useState(true);
  const [problem, setProblem] = useState("");
  const [placing, setPlacing] = useState<Live["placing"]>(null);
  const socket = useRef<WebSocket | null>(null);
  const asked = useRef<Asked | null>(null);
  const isUnsent = useRef(false);

  const send = useCallback(() => {
    const open = socket.current?.readyState === WebSocket.OPEN;
    if (!open || !isUnsent.current || !asked.current) return;
    // What was changed of shapes is only in pictures that are drawn from a tracing.
    const isTraced = asked.current.views.some((view) => view.traced);
    const drawn = isTraced ? asked.current.sheet : { ...asked.current.sheet, shapes: [] };
    socket.current?.send(JSON.stringify({ ...asked.current, sheet: drawn }));
    isUnsent.current = false;
  }, []);

  const ask = useCallback(
    (wanted: Sheet | null) => {
      if (!wanted || views.length === 0) return;
      asked.current = { ask: pictures.ask(), sheet: wanted, unfinished, views };
      isUnsent.current = true;
      send();
    },
    [views, unfinished, send, pictures],
  );
  const isWanted = sheet !== null;

  useEffect(() => {
    if (!isWanted) return undefined;
    let over = false;
    let timer: number | undefined;

    function receive(event: MessageEvent<string | ArrayBuffer>) {
      if (typeof event.data === "string") {
        const said = JSON.parse(event.data) as Said;
        if (said.placing) {
          setPlacing({ ...said.placing, isStopped: false });
          return;
        }
        if (said.view !== undefined) {
          pictures.refuse(said.view, { why: said.problem, later: said.later === true });
          return;
        }
        setProblem(said.problem);
        setPlacing(null);
        return;
      }
      const picture = unpacked(event.data);
      setProblem("");
      if (picture.answer.suggestions && !picture.answer.draft) setPlacing(null);
      pictures.put(picture);
    }

    function connect() {
      const url = new URL("/api/sheets/live", window.location.href);
      url.protocol = url.protocol === "https:" ? "wss:" : "ws:";
      const fresh = new WebSocket(url);
      fresh.binaryType = "arraybuffer";
      fresh.onopen = () => {
        setConnected(true);
        isUnsent.current = true;
        send();
      };
      fresh.onmessage = receive;
      fresh.onclose = () => {
        if (over) return;
        setConnected(false);
        timer = window.setTimeout(connect, RECONNECT_MS);
      };
      socket.current = fresh;
    }

    connect();
    return () => {
      over = true;
      window.clearTimeout(timer);
      socket.current?.close();
    };
  }, [isWanted, send, pictures]);

  // With the change itself, and not once it has been painted: that would be a frame later.
  useLayoutEffect(() => {
    const last = asked.current;
    const isAsked =
      last?.sheet === sheet && last?.views === views && last.unfinished === unfinished;
    if (!isAsked) ask(sheet);
  }, [sheet, views, unfinished, ask]);
  useLayoutEffect(
    () =>
      hear?.((changed) => {
        const last = asked.current;
        // A stroke that is made is in the changed sheet, and being made no more: not drawn twice.
        if (last && !last.unfinished && hasSameViews(last.sheet, changed)) ask(changed);
      }),
    [hear, ask],
  );

  const stopPlacing = useCallback(() => {
    socket.current?.send("stop");
    setPlacing((present) => present && { ...present, isStopped: true });
  }, []);
  const placeThem = useCallback(() => {
    setPlacing(null);
    ask(sheet);
  }, [ask, sheet]);

  return { pictures, connected, problem, placing, stopPlacing, placeThem };
}

/** Whether a change leaves what is looked at as it is: the views name plates and spots. */
export function hasSameViews(before: Sheet, after: Sheet): boolean {
  return (
    before.picture === after.picture &&
    before.paper === after.paper &&
    before.watch === after.watch &&
    before.plates.length === after.plates.length &&
    before.plates.every((plate, number) => plate.id === after.plates[number]?.id)
  );
}

/** A picture from a message: length of the head, head as JSON, rows of grey or RGB bytes. */
export function unpacked(data: ArrayBuffer): Picture {
  const headLength = new DataView(data).getUint32(0);
  const head = new TextDecoder().decode(new Uint8Array(data, 4, headLength));
  const answer = JSON.parse(head) as Answer;
  const bytes = new Uint8Array(data, 4 + headLength);
  const canvas = document.createElement("canvas");
  canvas.width = answer.width;
  canvas.height = answer.height;
  const rgba = rgbaOf(bytes, answer.width * answer.height, answer.channels);
  canvas.getContext("2d")?.putImageData(new ImageData(rgba, answer.width, answer.height), 0, 0);
  return {
    canvas,
    left: answer.left / answer.full_width,
    top: answer.top / answer.full_height,
    right: (answer.left + answer.width) / answer.full_width,
    bottom: (answer.top + answer.height) / answer.full_height,
    answer,
  };
}

/** Opaque RGBA from grey (1 channel) or RGB (3 channels) bytes. */
export function rgbaOf(bytes: Uint8Array, pixels: number, channels: number) {
  const rgba = new Uint8ClampedArray(pixels * 4);
  if (channels === 1) {
    const words = new Uint32Array(rgba.buffer);
    for (let k = 0; k < pixels; k += 1) words[k] = 0xff000000 | (bytes[k]! * 0x010101);
    return rgba;
  }
  for (let k = 0; k < pixels; k += 1) {
    rgba[4 * k] = bytes[3 * k]!;
    rgba[4 * k + 1] = bytes[3 * k + 1]!;
    rgba[4 * k + 2] = bytes[3 * k + 2]!;
    rgba[4 * k + 3] = 255;
  }
  return rgba;
}

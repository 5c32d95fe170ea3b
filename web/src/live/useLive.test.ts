import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Plate, SaidStroke, Sheet, View } from "../api/client";
import { hasSameViews, rgbaOf, useLive } from "./useLive";

interface Ask {
  ask: number;
  sheet: Sheet;
  unfinished: SaidStroke | null;
}

/** A server at the other end of a live connection, as far as a page can see. */
class Server {
  static readonly OPEN = 1;
  static readonly CLOSED = 3;
  static newest: Server;
  readyState = Server.OPEN;
  asks: Ask[] = [];
  onopen = () => {};
  onmessage: (event: { data: string }) => void = () => {};

  constructor() {
    Server.newest = this;
  }

  send(text: string): void {
    this.asks.push(JSON.parse(text) as Ask);
  }

  close(): void {}

  /** The connection is lost, or there again. */
  leave(): void {
    this.readyState = Server.CLOSED;
  }

  comeBack(): void {
    this.readyState = Server.OPEN;
    act(() => this.onopen());
  }

  get titles(): string[] {
    return this.asks.map((each) => each.sheet.title);
  }
}

const PLATES = [{ id: "a" }, { id: "b" }] as Plate[];
const VIEWS = [{ id: "main", plate: "a" }] as View[];
const SHEET = { title: "first", plates: PLATES, shapes: [] } as unknown as Sheet;

const titled = (title: string, plates = PLATES) => ({ ...SHEET, title, plates }) as Sheet;

interface Shown {
  sheet: Sheet;
  unfinished?: SaidStroke;
}

/** A sheet that is looked at, the server it is asked of, and what tells of changes. */
function looking() {
  const listeners = new Set<(sheet: Sheet) => void>();
  const hear = (listener: (sheet: Sheet) => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  };
  const { rerender } = renderHook(
    ({ sheet, unfinished }: Shown) => useLive(sheet, VIEWS, unfinished ?? null, hear),
    { initialProps: { sheet: SHEET } as Shown },
  );
  const server = Server.newest;
  act(() => server.onopen());
  const change = (sheet: Sheet) => act(() => listeners.forEach((listener) => listener(sheet)));
  return { server, change, rerender, listeners };
}

beforeEach(() => {
  vi.stubGlobal("WebSocket", Server);
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test("a change is asked for before the page shows it, and once", () => {
  const { server, change, rerender } = looking();
  const moved = titled("moved");

  change(moved);
  expect(server.titles).toEqual(["first", "moved"]);
  rerender({ sheet: moved });
  expect(server.titles).toEqual(["first", "moved"]);
});

test("each change is asked for at once, also while one before it is still drawn", () => {
  const { server, change, rerender } = looking();
  const last = titled("third");

  change(titled("second"));
  change(last);
  rerender({ sheet: last });
  expect(server.titles).toEqual(["first", "second", "third"]);
  expect(server.asks.map((each) => each.ask)).toEqual([1, 2, 3]);
});

test("what was changed without a connection is asked for with the next one, and once", () => {
  const { server, change } = looking();
  server.leave();
  change(titled("second"));
  change(titled("third"));
  expect(server.titles).toEqual(["first"]);

  server.comeBack();
  expect(server.titles).toEqual(["first", "third"]);
});

test("what changes the views is asked for with the views that go with it", () => {
  const { server, change, rerender } = looking();
  const fewer = titled("fewer", PLATES.slice(1));

  change(fewer);
  expect(server.titles).toEqual(["first"]);
  rerender({ sheet: fewer });
  expect(server.titles).toEqual(["first", "fewer"]);
});

test("a stroke that is made is never asked for as one that is being made, too", () => {
  const { server, change, rerender } = looking();
  rerender({ sheet: SHEET, unfinished: { plate: "a" } as SaidStroke });
  const painted = titled("painted");

  change(painted);
  expect(server.titles).toEqual(["first", "first"]);
  rerender({ sheet: painted });
  expect(server.titles).toEqual(["first", "first", "painted"]);
  expect(server.asks.map((each) => each.unfinished !== null)).toEqual([false, true, false]);
});

test("what is not looked at any more is not asked for", () => {
  const { listeners } = looking();

  cleanup();
  expect(listeners.size).toBe(0);
});

test("a dial leaves what is looked at; a plate, a spot, the paper and the photo do not", () => {
  const turned = [{ ...PLATES[0], name: "turned" }, PLATES[1]] as Plate[];

  expect(hasSameViews(SHEET, titled("moved", turned))).toBe(true);
  expect(hasSameViews(SHEET, titled("turned over", PLATES.toReversed()))).toBe(false);
  for (const part of ["picture", "paper", "watch"]) {
    expect(hasSameViews(SHEET, { ...SHEET, [part]: {} } as Sheet)).toBe(false);
  }
});

test("grey bytes become opaque grey", () => {
  expect([...rgbaOf(new Uint8Array([0, 128, 255]), 3, 1)]).toEqual([
    0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255,
  ]);
});

test("colour bytes keep their order", () => {
  expect([...rgbaOf(new Uint8Array([1, 2, 3, 4, 5, 6]), 2, 3)]).toEqual([
    1, 2, 3, 255, 4, 5, 6, 255,
  ]);
});

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { createElement, type PropsWithChildren } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Sheet, SheetRecord } from "../api/client";
import { SHEETS } from "../api/queries";
import { useSheet } from "./useSheet";

/** A server with one sheet, as far as a page can see: it answers, refuses, or is not there. */
class Server {
  sheet = titled("first");
  revision = 1;
  steps: string[] = [];
  isThere = true;
  missed = 0;
  asked = 0;
  refusal: { status: number; detail: string } | null = null;
  /** Answers wait until this is called, while it is set. */
  private held: (() => void)[] | null = null;

  hold(): void {
    this.held = [];
  }

  letGo(): void {
    const held = this.held ?? [];
    this.held = null;
    for (const answer of held) answer();
  }

  async fetch(request: Request): Promise<Response> {
    const body = request.method === "GET" ? null : await request.clone().text();
    // As a browser does: what outlives its page may be no larger.
    if (request.keepalive && (body?.length ?? 0) > 65_536) throw new TypeError("Failed to fetch");
    if (this.held) await new Promise<void>((resolve) => this.held?.push(resolve));
    if (!this.isThere) {
      this.missed += 1;
      throw new TypeError("Failed to fetch");
    }
    if (request.method === "GET") {
      this.asked += 1;
      return this.record();
    }
    if (this.refusal) return problem(this.refusal.status, this.refusal.detail);
    if (request.method === "POST") {
      this.revision += 1;
      this.sheet = titled(request.url.endsWith("/undo") ? "undone" : "done again");
      return this.record();
    }
    const change = JSON.parse(body ?? "{}") as { base: number; sheet: Sheet; words: string };
    if (change.base !== this.revision) return problem(409, "Changed elsewhere.");
    this.sheet = change.sheet;
    this.revision += 1;
    this.steps.push(change.words);
    return this.record();
  }

  private record(): Response {
    const { sheet, revision } = this;
    const undo = this.steps.at(-1) ?? null;
    return Response.json({ id: 7, revision, sheet, undo, redo: null } as unknown as SheetRecord);
  }
}

function problem(status: number, detail: string): Response {
  return Response.json({ detail }, { status });
}

function titled(title: string): Sheet {
  return { title, plates: [], watch: [] } as unknown as Sheet;
}

let server: Server;
/** Each test has a sheet of its own: what one puts by is not another's. */
let sheetId = 0;

beforeEach(() => {
  server = new Server();
  sheetId += 1;
  // Whatever else the page talks to is outside of it.
  vi.stubGlobal("fetch", (request: Request) => server.fetch(request));
});
afterEach(() => {
  vi.useRealTimers();
  cleanup();
  vi.unstubAllGlobals();
});

/** What the page knows of sheets by their list. */
let queries = new QueryClient();

function turnedOn(known?: SheetRecord) {
  queries = new QueryClient();
  const wrapper = ({ children }: PropsWithChildren) =>
    createElement(QueryClientProvider, { client: queries }, children);
  return renderHook(() => useSheet(sheetId, known), { wrapper });
}

async function opened() {
  const { result, unmount } = turnedOn();
  await waitFor(() => expect(result.current.content.state).toBe("ready"));
  const shown = () => {
    const { content } = result.current;
    return content.state === "ready" ? content.sheet : null;
  };
  const title = () => shown()?.title ?? result.current.content.state;
  const change = (words: string, gesture = words) =>
    act(() => result.current.change(titled(words), words, gesture));
  return { result, shown, title, change, unmount };
}

/** Leave the page while the server is not there, which then comes back. */
async function left(unmount: () => void) {
  window.dispatchEvent(new Event("pagehide"));
  const { missed } = server;
  unmount();
  await waitFor(() => expect(server.missed).toBeGreaterThan(missed));
  server.isThere = true;
}

test("a change shows at once and is saved by itself", async () => {
  const { result, title, change } = await opened();

  change("darker");

  expect(title()).toBe("darker");
  expect(result.current.saving).toBe("saving");
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(server.sheet.title).toBe("darker");
  expect(result.current.content).toMatchObject({ revision: 2, undo: "darker" });
});

test("a change is heard before the page shows it, until nobody listens", async () => {
  const { result, title, change } = await opened();
  const heard: string[] = [];
  const leave = result.current.hear((sheet) => heard.push(`${title()}, ${sheet.title}`));

  change("darker");
  leave();
  change("lighter");

  expect(heard).toEqual(["first, darker"]);
});

/** As it is where time is made to pass. */
const later = globalThis.setTimeout;

/** Let so many milliseconds pass, and what is asked of the server be answered. */
const pass = (ms: number) =>
  act(async () => {
    vi.advanceTimersByTime(ms);
    // Bodies are read in turns of the event loop.
    for (let turn = 0; turn < 20; turn += 1) await new Promise((next) => later(next, 0));
  });

test("what changes while a change is on its way is saved after a rest of its own", async () => {
  const { result, change } = await opened();
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "Date"] });

  server.hold();
  change("level 1", "drag");
  await pass(200);
  change("level 2", "drag");
  server.letGo();
  await pass(199);
  expect(server.steps).toEqual(["level 1"]);

  change("level 3", "drag");
  await pass(199);
  expect(server.steps).toEqual(["level 1"]);

  await pass(1);
  expect(server.steps).toEqual(["level 1", "level 3"]);
  expect(result.current.saving).toBe("saved");
});

test("a hand that never rests is saved every second", async () => {
  const { change } = await opened();
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "Date"] });

  for (let move = 1; move <= 33; move += 1) {
    change(`level ${move}`, "drag");
    await pass(100);
  }

  // The first second has begun with the first change, each further one with the next after it.
  expect(server.steps).toEqual(["level 10", "level 20", "level 30"]);
});

test("changes of one gesture are sent as one, those of others each", async () => {
  const { result, change } = await opened();

  for (const words of ["level 1", "level 2", "level 3"]) change(words, "drag");
  change("title", "typed");
  await waitFor(() => expect(result.current.saving).toBe("saved"));

  expect(server.steps).toEqual(["level 3", "title"]);
});

test("what is on its way is not replaced by what comes after it", async () => {
  const { result, change } = await opened();
  server.hold();
  change("level 1", "drag");
  await act(() => {
    void result.current.flush();
  });

  for (const words of ["level 2", "level 3"]) change(words, "drag");
  server.letGo();
  await waitFor(() => expect(server.sheet.title).toBe("level 3"));

  expect(server.steps).toEqual(["level 1", "level 3"]);
});

test("while the server is not there changes wait, and are sent when it is back", async () => {
  const { result, title, change } = await opened();
  server.isThere = false;

  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("offline"));
  change("lighter");

  expect(title()).toBe("lighter");
  expect(result.current.trouble).toContain("does not answer");
  server.isThere = true;
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(server.steps).toEqual(["darker", "lighter"]);
  expect(result.current.trouble).toBe("");
});

test("a change to an older version is told apart and nothing is overwritten", async () => {
  const { result, title, change } = await opened();
  server.revision = 9;
  server.sheet = titled("theirs");

  change("mine");
  await waitFor(() => expect(result.current.saving).toBe("stale"));

  expect(server.sheet.title).toBe("theirs");
  expect(title()).toBe("mine");
  await act(() => result.current.load());
  expect(title()).toBe("theirs");
  expect(result.current.saving).toBe("saved");
});

test("mine can be saved over theirs", async () => {
  const { result, title, change } = await opened();
  server.revision = 9;
  change("mine");
  await waitFor(() => expect(result.current.saving).toBe("stale"));

  await act(() => result.current.takeOver());

  expect(server.sheet.title).toBe("mine");
  expect(title()).toBe("mine");
  expect(result.current.saving).toBe("saved");
});

test("a change that is refused is taken back and does not stand in the way of the next", async () => {
  const { result, title, change } = await opened();
  server.refusal = { status: 422, detail: "Level is 3; it must be 1 or less." };
  change("level 3");
  await waitFor(() => expect(result.current.trouble).not.toBe(""));

  expect(result.current.trouble).toContain("must be 1 or less. The change was taken back");
  expect(title()).toBe("first");
  server.refusal = null;
  change("level 1");
  await waitFor(() => expect(server.steps).toEqual(["level 1"]));
});

test("a server in trouble is not a refusal: the change waits", async () => {
  const { result, title, change } = await opened();
  server.refusal = { status: 503, detail: "The disk is full." };

  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("offline"));

  expect(title()).toBe("darker");
  expect(result.current.trouble).toBe("The disk is full.");
});

test("undo saves what is pending first", async () => {
  const { result, title, change } = await opened();

  change("darker");
  await act(() => result.current.undo("undo"));

  expect(server.steps).toEqual(["darker"]);
  expect(title()).toBe("undone");
});

test("leaving the page sends what is pending", async () => {
  const { change, unmount } = await opened();

  change("darker");
  unmount();

  await waitFor(() => expect(server.sheet.title).toBe("darker"));
});

test("what was not saved when the page was left is saved when it is opened again", async () => {
  const { change, unmount } = await opened();
  server.isThere = false;
  change("darker");
  change("lighter");
  await left(unmount);

  const { title } = await opened();

  await waitFor(() => expect(server.steps).toEqual(["darker", "lighter"]));
  expect(title()).toBe("lighter");
  expect(localStorage.getItem(`flinz-unsent-${sheetId}`)).toBeNull();
});

test("what had arrived after all is not sent twice", async () => {
  const { change, unmount } = await opened();
  server.isThere = false;
  change("darker");
  change("lighter");
  await left(unmount);
  server.sheet = titled("darker");
  server.revision = 2;

  const { title, result } = await opened();

  await waitFor(() => expect(server.steps).toEqual(["lighter"]));
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(title()).toBe("lighter");
});

test("what was not saved is told apart from what was changed elsewhere meanwhile", async () => {
  const { change, unmount } = await opened();
  server.isThere = false;
  change("mine");
  await left(unmount);
  server.sheet = titled("theirs");
  server.revision = 2;

  const { title, result } = await opened();

  await waitFor(() => expect(result.current.saving).toBe("stale"));
  expect([title(), server.sheet.title]).toEqual(["mine", "theirs"]);
});

test("a page is not left unasked with what can neither be saved nor put by", async () => {
  const { change } = await opened();
  const asked = () => {
    const event = new Event("beforeunload", { cancelable: true });
    window.dispatchEvent(event);
    return event.defaultPrevented;
  };
  server.isThere = false;
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });

  expect(asked()).toBe(false);
  change("darker");
  expect(asked()).toBe(true);
  vi.restoreAllMocks();
});

test("a document larger than a browser sends from a page it leaves is saved", async () => {
  const { result } = await opened();
  const large = { ...titled("large"), notes: "x".repeat(200_000) } as unknown as Sheet;

  act(() => result.current.change(large, "large", "large"));

  await waitFor(() => expect(server.sheet).toEqual(large));
});

test("a sheet that is not there says so", async () => {
  server.isThere = false;
  const { result } = turnedOn();

  await waitFor(() => expect(result.current.content.state).toBe("failed"));
});

test("what a list knew shows until the newest comes", async () => {
  const known = { id: 7, revision: 1, sheet: titled("known") } as unknown as SheetRecord;
  server.revision = 2;
  server.sheet = titled("newest");
  const { result } = turnedOn(known);

  expect(result.current.content).toMatchObject({ state: "ready", sheet: { title: "known" } });
  await waitFor(() =>
    expect(result.current.content).toMatchObject({ sheet: { title: "newest" }, revision: 2 }),
  );
});

test("the list has a sheet as it was last saved", async () => {
  const { change } = await opened();
  const other = { id: 8, revision: 3, sheet: titled("other") } as unknown as SheetRecord;
  queries.setQueryData(SHEETS, [other, { ...other, id: 7 }]);

  change("changed here");
  await waitFor(() => expect(server.steps).toEqual(["changed here"]));

  const listed = () => queries.getQueryData<SheetRecord[]>(SHEETS);
  await waitFor(() => expect(listed()?.[1]?.sheet).toEqual(server.sheet));
  expect(listed()?.[1]?.revision).toBe(server.revision);
  expect(listed()?.[0]).toEqual(other);
});

/** A sheet that is drawn from another one of this title. */
function drawnFrom(title: string, live: boolean): Sheet {
  const source = { kind: "sheet", live, document: { title } };
  return { ...titled("outer"), plates: [{ source }] } as unknown as Sheet;
}

test("what a sheet follows is renewed as one comes back to it", async () => {
  server.sheet = drawnFrom("before", true);
  const { shown } = await opened();
  server.sheet = drawnFrom("after", true);

  act(() => void window.dispatchEvent(new Event("focus")));

  await waitFor(() => expect(JSON.stringify(shown())).toContain("after"));
});

test("what a sheet does not follow is not asked for again", async () => {
  server.sheet = drawnFrom("before", false);
  const { result, shown } = await opened();
  const { asked } = server;

  act(() => void window.dispatchEvent(new Event("focus")));
  act(() => result.current.change({ ...shown()!, title: "mine" }, "mine", "one"));
  await waitFor(() => expect(server.steps).toEqual(["mine"]));

  expect(server.asked).toBe(asked);
});

test("coming back keeps what is being turned", async () => {
  server.sheet = drawnFrom("before", true);
  const { result, shown } = await opened();
  const mine = { ...shown()!, title: "mine" };

  act(() => result.current.change(mine, "mine", "one"));
  act(() => void window.dispatchEvent(new Event("focus")));
  await waitFor(() => expect(server.steps).toEqual(["mine"]));

  expect(shown()?.title).toBe("mine");
});

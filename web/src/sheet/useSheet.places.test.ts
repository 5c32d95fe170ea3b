import { act, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Sheet, SheetRecord } from "../api/client";
import { eachWithAServer, opened, titled, turnedOn, world } from "./useSheet.testing";

eachWithAServer();

/** Change a sheet and leave its page while the server is not there, which then comes back. */
async function leftUnsaved(...changes: string[]) {
  const { change, unmount } = await opened();
  world.server.isThere = false;
  for (const words of changes) change(words);
  window.dispatchEvent(new Event("pagehide"));
  const { missed } = world.server;
  unmount();
  await waitFor(() => expect(world.server.missed).toBeGreaterThan(missed));
  world.server.isThere = true;
}

/** Let what has begun come as far as it can. */
const turn = () => act(() => new Promise((next) => setTimeout(next, 0)));

test("a change to an older version is told apart and nothing is overwritten", async () => {
  const { result, title, change } = await opened();
  world.server.revision = 9;
  world.server.sheet = titled("theirs");

  change("mine");
  await waitFor(() => expect(result.current.saving).toBe("stale"));

  expect(world.server.sheet.title).toBe("theirs");
  expect(title()).toBe("mine");
  await act(() => result.current.load());
  expect(title()).toBe("theirs");
  expect(result.current.saving).toBe("saved");
});

test("mine can be saved over theirs", async () => {
  const { result, title, change } = await opened();
  world.server.revision = 9;
  change("mine");
  await waitFor(() => expect(result.current.saving).toBe("stale"));

  await act(() => result.current.takeOver());

  expect(world.server.sheet.title).toBe("mine");
  expect(title()).toBe("mine");
  expect(result.current.saving).toBe("saved");
});

test("leaving the page sends what is pending", async () => {
  const { change, unmount } = await opened();

  change("darker");
  unmount();

  await waitFor(() => expect(world.server.sheet.title).toBe("darker"));
});

test("what was not saved when the page was left is saved when it is opened again", async () => {
  await leftUnsaved("darker", "lighter");

  const { title } = await opened();

  await waitFor(() => expect(world.server.steps).toEqual(["darker", "lighter"]));
  expect(title()).toBe("lighter");
  expect(localStorage.getItem(`flinz-unsent-${world.sheetId}`)).toBeNull();
});

test("what had arrived after all is not sent twice", async () => {
  await leftUnsaved("darker", "lighter");
  world.server.sheet = titled("darker");
  world.server.revision = 2;

  const { title, result } = await opened();

  await waitFor(() => expect(world.server.steps).toEqual(["lighter"]));
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(title()).toBe("lighter");
});

test("what was not saved is told apart from what was changed elsewhere meanwhile", async () => {
  await leftUnsaved("mine");
  world.server.sheet = titled("theirs");
  world.server.revision = 2;

  const { title, result } = await opened();

  await waitFor(() => expect(result.current.saving).toBe("stale"));
  expect([title(), world.server.sheet.title]).toEqual(["mine", "theirs"]);
});

test("a page is not left unasked with what can neither be saved nor put by", async () => {
  const { change } = await opened();
  const asked = () => {
    const event = new Event("beforeunload", { cancelable: true });
    window.dispatchEvent(event);
    return event.defaultPrevented;
  };
  world.server.isThere = false;
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });

  expect(asked()).toBe(false);
  change("darker");
  expect(asked()).toBe(true);
  vi.restoreAllMocks();
});

/** A sheet that is drawn from another one of this title. */
function drawnFrom(title: string, live: boolean): Sheet {
  const source = { kind: "sheet", live, document: { title } };
  return { ...titled("outer"), plates: [{ source }] } as unknown as Sheet;
}

test("what a sheet follows is renewed as one comes back to it", async () => {
  world.server.sheet = drawnFrom("before", true);
  const { shown } = await opened();
  world.server.sheet = drawnFrom("after", true);

  act(() => void window.dispatchEvent(new Event("focus")));

  await waitFor(() => expect(JSON.stringify(shown())).toContain("after"));
});

test("what was changed elsewhere shows as one comes back, by the history too", async () => {
  const { title } = await opened();
  const restored = new PageTransitionEvent("pageshow", { persisted: true });
  for (const [event, theirs] of [
    [new Event("focus"), "theirs"],
    [restored, "and theirs"],
  ] as const) {
    world.server.sheet = titled(theirs);
    world.server.revision += 1;

    act(() => void window.dispatchEvent(event));

    await waitFor(() => expect(title()).toBe(theirs));
  }
});

test("a page that is shown for the first time is asked for once", async () => {
  await opened();
  const { asked } = world.server;

  act(() => void window.dispatchEvent(new PageTransitionEvent("pageshow", { persisted: false })));
  await turn();

  expect(world.server.asked).toBe(asked);
});

test("coming back keeps what is being turned", async () => {
  world.server.sheet = drawnFrom("before", true);
  const { result, shown } = await opened();
  const mine = { ...shown()!, title: "mine" };

  act(() => result.current.change(mine, "mine", "one"));
  act(() => void window.dispatchEvent(new Event("focus")));
  await waitFor(() => expect(world.server.steps).toEqual(["mine"]));

  expect(shown()?.title).toBe("mine");
});

test("the next page of a sheet begins with what the one before it sent last", async () => {
  const { change, unmount } = await opened();
  const { server } = world;
  change("turned last");
  server.hold();
  unmount();

  const next = opened();
  await turn();
  server.letGo();
  const { result, title } = await next;

  expect(title()).toBe("turned last");
  act(() => result.current.change(titled("turned next"), "turned next", "next"));
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(server.steps).toEqual(["turned last", "turned next"]);
});

test("a list's record is not begun with while what changes it is on its way", async () => {
  const { change, unmount } = await opened();
  const { server } = world;
  const known = { id: 7, revision: 1, sheet: titled("first") } as unknown as SheetRecord;
  change("turned last");
  server.hold();
  unmount();

  const { result } = turnedOn(known);
  await waitFor(() => expect(result.current.content.state).toBe("waiting"));
  server.letGo();

  await waitFor(() => expect(result.current.content).toMatchObject({ revision: 2 }));
  expect(result.current.content).toMatchObject({ sheet: { title: "turned last" } });
});

test("what comes to something only after its page was left is there on the next one, too", async () => {
  const { change, unmount } = await opened();
  const { server } = world;
  unmount();
  server.hold();
  change("found late");

  const next = opened();
  await turn();
  server.letGo();

  const { title } = await next;
  await waitFor(() => expect(title()).toBe("found late"));
});

test("a page does not wait for ever for what the one before it could not send", async () => {
  await leftUnsaved("turned last");

  const { title } = await opened();

  await waitFor(() => expect(title()).toBe("turned last"));
});

test("what was saved though its answer was lost is not told apart from itself", async () => {
  const { result, title, change } = await opened();
  world.server.isHeard = false;
  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("offline"));
  change("lighter");

  world.server.isHeard = true;
  await waitFor(() => expect(result.current.saving).toBe("saved"));

  expect(world.server.steps).toEqual(["darker", "lighter"]);
  expect(title()).toBe("lighter");
});

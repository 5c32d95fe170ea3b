import { act, waitFor } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Sheet, SheetRecord } from "../api/client";
import { SHEETS } from "../api/queries";
import { eachWithAServer, opened, titled, turnedOn, world } from "./useSheet.testing";

eachWithAServer();

test("a change shows at once and is saved by itself", async () => {
  const { result, title, change } = await opened();

  change("darker");

  expect(title()).toBe("darker");
  expect(result.current.saving).toBe("saving");
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(world.server.sheet.title).toBe("darker");
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

  world.server.hold();
  change("level 1", "drag");
  await pass(200);
  change("level 2", "drag");
  world.server.letGo();
  await pass(199);
  expect(world.server.steps).toEqual(["level 1"]);

  change("level 3", "drag");
  await pass(199);
  expect(world.server.steps).toEqual(["level 1"]);

  await pass(1);
  expect(world.server.steps).toEqual(["level 1", "level 3"]);
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
  expect(world.server.steps).toEqual(["level 10", "level 20", "level 30"]);
});

test("changes of one gesture are sent as one, those of others each", async () => {
  const { result, change } = await opened();

  for (const words of ["level 1", "level 2", "level 3"]) change(words, "drag");
  change("title", "typed");
  await waitFor(() => expect(result.current.saving).toBe("saved"));

  expect(world.server.steps).toEqual(["level 3", "title"]);
});

test("what is on its way is not replaced by what comes after it", async () => {
  const { result, change } = await opened();
  world.server.hold();
  change("level 1", "drag");
  await act(() => {
    void result.current.flush();
  });

  for (const words of ["level 2", "level 3"]) change(words, "drag");
  world.server.letGo();
  await waitFor(() => expect(world.server.sheet.title).toBe("level 3"));

  expect(world.server.steps).toEqual(["level 1", "level 3"]);
});

test("while the server is not there changes wait, and are sent when it is back", async () => {
  const { result, title, change } = await opened();
  world.server.isThere = false;

  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("offline"));
  change("lighter");

  expect(title()).toBe("lighter");
  expect(result.current.trouble).toContain("does not answer");
  world.server.isThere = true;
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  expect(world.server.steps).toEqual(["darker", "lighter"]);
  expect(result.current.trouble).toBe("");
});

test("a change that is refused is taken back and does not stand in the way of the next", async () => {
  const { result, title, change } = await opened();
  world.server.refusal = { status: 422, detail: "Level is 3; it must be 1 or less." };
  change("level 3");
  await waitFor(() => expect(result.current.trouble).not.toBe(""));

  expect(result.current.trouble).toContain("must be 1 or less. The change was taken back");
  expect(title()).toBe("first");
  world.server.refusal = null;
  change("level 1");
  await waitFor(() => expect(world.server.steps).toEqual(["level 1"]));
});

test("a server in trouble is not a refusal: the change waits", async () => {
  const { result, title, change } = await opened();
  world.server.refusal = { status: 503, detail: "The disk is full." };

  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("offline"));

  expect(title()).toBe("darker");
  expect(result.current.trouble).toBe("The disk is full.");
});

test("undo saves what is pending first", async () => {
  const { result, title, change } = await opened();

  change("darker");
  await act(() => result.current.undo("undo"));

  expect(world.server.steps).toEqual(["darker"]);
  expect(title()).toBe("undone");
});

test.each([1, 2])("what is turned while %i undo is on its way is saved on top", async (undos) => {
  const { result, title, change } = await opened();
  change("darker");
  await waitFor(() => expect(result.current.saving).toBe("saved"));
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "Date"] });
  const { server } = world;
  server.hold();

  for (let each = 0; each < undos; each += 1) act(() => void result.current.undo("undo"));
  await pass(0);
  change("lighter");
  await pass(200);
  server.letGo();
  await pass(0);
  await pass(0);

  expect(result.current.saving).toBe("saved");
  expect(title()).toBe("lighter");
  expect(server.steps).toEqual(["darker", "lighter"]);
});

test("a document larger than a browser sends from a page it leaves is saved", async () => {
  const { result } = await opened();
  const large = { ...titled("large"), notes: "x".repeat(200_000) } as unknown as Sheet;

  act(() => result.current.change(large, "large", "large"));

  await waitFor(() => expect(world.server.sheet).toEqual(large));
});

test("a sheet that is not there says so", async () => {
  world.server.isThere = false;
  const { result } = turnedOn();

  await waitFor(() => expect(result.current.content.state).toBe("failed"));
});

test("what a list knew shows until the newest comes", async () => {
  const known = { id: 7, revision: 1, sheet: titled("known") } as unknown as SheetRecord;
  world.server.revision = 2;
  world.server.sheet = titled("newest");
  const { result } = turnedOn(known);

  expect(result.current.content).toMatchObject({ state: "ready", sheet: { title: "known" } });
  await waitFor(() =>
    expect(result.current.content).toMatchObject({ sheet: { title: "newest" }, revision: 2 }),
  );
});

test("the list has a sheet as it was last saved", async () => {
  const { change } = await opened();
  const other = { id: 8, revision: 3, sheet: titled("other") } as unknown as SheetRecord;
  world.queries.setQueryData(SHEETS, [other, { ...other, id: 7 }]);

  change("changed here");
  await waitFor(() => expect(world.server.steps).toEqual(["changed here"]));

  const listed = () => world.queries.getQueryData<SheetRecord[]>(SHEETS);
  await waitFor(() => expect(listed()?.[1]?.sheet).toEqual(world.server.sheet));
  expect(listed()?.[1]?.revision).toBe(world.server.revision);
  expect(listed()?.[0]).toEqual(other);
});

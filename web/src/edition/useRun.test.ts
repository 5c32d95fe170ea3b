import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { createElement, type PropsWithChildren } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { IDLE } from "./words";
import { useRun } from "./useRun";

/** What a server tells of a run, by hand. */
class Told {
  static last: Told;
  onmessage?: (event: { data: string }) => void;
  isClosed = false;
  constructor() {
    Told.last = this;
  }
  close() {
    this.isClosed = true;
  }
  say(what: object) {
    this.onmessage?.({ data: JSON.stringify({ ...IDLE, ...what }) });
  }
}

beforeEach(() => {
  vi.stubGlobal("EventSource", Told);
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test("a run is over once the files that it left are known", async () => {
  const queries = new QueryClient();
  let answer: (record: { done: number; is_running: boolean }) => void = () => {};
  const ask = () =>
    new Promise<{ done: number; is_running: boolean }>((resolve) => {
      answer = resolve;
    });
  const shown = renderHook(
    () => {
      const record = useQuery({ queryKey: ["edition", 1], queryFn: ask }).data;
      const { run } = useRun(1, record?.is_running ?? false, false, () => {});
      return { done: record?.done, isRunning: run.is_running };
    },
    {
      wrapper: ({ children }: PropsWithChildren) =>
        createElement(QueryClientProvider, { client: queries }, children),
    },
  );
  act(() => answer({ done: 1, is_running: true }));
  await waitFor(() => expect(Told.last).toBeDefined());
  act(() => Told.last.say({ is_running: true, total: 8, ended: 1 }));
  await waitFor(() => expect(shown.result.current).toEqual({ done: 1, isRunning: true }));

  // A second file ended just before somebody stopped it: its answer is still on its way.
  const earlier = answer;
  act(() => Told.last.say({ is_running: false }));
  await waitFor(() => expect(answer).not.toBe(earlier));
  expect(shown.result.current).toEqual({ done: 1, isRunning: true });
  expect(Told.last.isClosed).toBe(true);

  act(() => answer({ done: 2, is_running: false }));
  await waitFor(() => expect(shown.result.current).toEqual({ done: 2, isRunning: false }));
});

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { createElement, type PropsWithChildren } from "react";
import { afterEach, beforeEach, expect, vi } from "vitest";
import type { Sheet, SheetRecord } from "../api/client";
import { useSheet } from "./useSheet";

/** A server with one sheet, as far as a page can see: it answers, refuses, or is not there. */
export class Server {
  sheet = titled("first");
  revision = 1;
  steps: string[] = [];
  isThere = true;
  missed = 0;
  asked = 0;
  refusal: { status: number; detail: string } | null = null;
  /** Whether its answers arrive. */
  isHeard = true;
  /** Requests wait until they are let go, while this is set. */
  private held: { method: string; go: () => void }[] | null = null;

  hold(): void {
    this.held = [];
  }

  /** Let all go: servers answer in any order, so what is asked overtakes what is told. */
  letGo(): void {
    const held = this.held ?? [];
    this.held = null;
    for (const { go } of held.filter(({ method }) => method === "GET")) go();
    for (const { go } of held.filter(({ method }) => method !== "GET")) go();
  }

  async fetch(request: Request): Promise<Response> {
    const body = request.method === "GET" ? null : await request.clone().text();
    // As a browser does: what outlives its page may be no larger.
    if (request.keepalive && (body?.length ?? 0) > 65_536) throw new TypeError("Failed to fetch");
    if (this.held) await new Promise<void>((go) => this.held?.push({ method: request.method, go }));
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
    if (!this.isHeard) throw new TypeError("Failed to fetch");
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

export function titled(title: string): Sheet {
  return { title, plates: [], watch: [] } as unknown as Sheet;
}

/** What a test has: a server, what the page knows of sheets by their list, and the sheet's number.
 * Each test has a sheet of its own: what one puts by is not another's. */
export const world = { server: new Server(), queries: new QueryClient(), sheetId: 0 };

/** Have each test of a file begin with a server of its own. */
export function eachWithAServer(): void {
  beforeEach(() => {
    world.server = new Server();
    world.sheetId += 1;
    // Whatever else the page talks to is outside of it.
    vi.stubGlobal("fetch", (request: Request) => world.server.fetch(request));
  });
  afterEach(() => {
    vi.useRealTimers();
    cleanup();
    vi.unstubAllGlobals();
  });
}

export function turnedOn(known?: SheetRecord) {
  world.queries = new QueryClient();
  const wrapper = ({ children }: PropsWithChildren) =>
    createElement(QueryClientProvider, { client: world.queries }, children);
  return renderHook(() => useSheet(world.sheetId, known), { wrapper });
}

export async function opened() {
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

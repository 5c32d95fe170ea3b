import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import type { PullRecord } from "../../api/client";
import { PullsPanel } from "./PullsPanel";

// The page without a browser has no window sizes to ask about.
beforeAll(() => {
  window.matchMedia = (media) =>
    ({
      media,
      matches: false,
      addListener: () => {},
      removeListener: () => {},
    }) as unknown as MediaQueryList;
});
afterEach(cleanup);

const pull = { id: 7, name: "Thin lines", made: "2026-05-01T10:00:00Z" } as unknown as PullRecord;

function panel(more: Partial<Parameters<typeof PullsPanel>[0]> = {}) {
  const acts = {
    onKeep: vi.fn(),
    onRename: vi.fn(),
    onGoBack: vi.fn(),
    onCompare: vi.fn(),
    onRemove: vi.fn(),
    onPutBack: vi.fn(),
    onLeave: vi.fn(),
  };
  render(<PullsPanel show sheetId={3} pulls={[pull]} deleted={null} {...acts} {...more} />);
  return acts;
}

test("a pull is kept by the name that was typed, or by its number", () => {
  const { onKeep } = panel();
  const name = screen.getByLabelText("Name of the next pull");

  fireEvent.click(screen.getByText("Keep a pull"));
  fireEvent.change(name, { target: { value: "  Bolder " } });
  fireEvent.click(screen.getByText("Keep a pull"));

  expect(onKeep.mock.calls).toEqual([["Pull 2"], ["Bolder"]]);
  expect((name as HTMLInputElement).value).toBe("");
});

test("a deleted pull can be put back", () => {
  const { onPutBack } = panel({ pulls: [], deleted: pull });

  expect(screen.getByRole("status").textContent).toContain("“Thin lines” was deleted.");
  fireEvent.click(screen.getByRole("status").querySelector("button")!);

  expect(onPutBack).toHaveBeenCalledOnce();
});

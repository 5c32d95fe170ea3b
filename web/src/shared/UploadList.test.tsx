import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { UploadList } from "./UploadList";
import type { Upload } from "./useUploads";

const coming: Upload = { key: 1, name: "pears.jpg", state: "waiting", sentence: "" };
const bad: Upload = { key: 2, name: "a.txt", state: "failed", sentence: "This is no picture." };
const snail: Upload = {
  key: 3,
  name: "snail.gif",
  state: "ready",
  sentence: "The first picture was taken.",
  leads: "/photos/abc/contact",
};

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

function list(...uploads: Upload[]) {
  const onDismiss = vi.fn();
  const { container } = render(<UploadList uploads={uploads} onDismiss={onDismiss} />, {
    wrapper: MemoryRouter,
  });
  return { container, onDismiss };
}

test("nothing is said while nothing comes in", () => {
  expect(list().container.textContent).toBe("");
});

test("files that come in are one note, which says how far they are and cannot be put away", () => {
  const { container } = list(snail, coming, { ...coming, key: 4, name: "boots.png" });

  expect(container.querySelectorAll(".uploads-note")).toHaveLength(1);
  expect(container.textContent).toContain("pears.jpg is coming in: 2 of 3…");
  expect(screen.queryByLabelText("Put this note away")).toBeNull();
});

test("one that is there offers to be drawn, and several are told together", () => {
  list(snail);
  expect(screen.getByRole("link", { name: "Draw it" }).getAttribute("href")).toBe(snail.leads);
  cleanup();

  const { container } = list(snail, { ...snail, key: 9, name: "boots.png" });
  expect(container.textContent).toContain("2 files are on the shelf.");
  expect(container.textContent).toContain("snail.gif: The first picture was taken.");
});

test("a note fades once it is read, not while the pointer rests on it", () => {
  const { container, onDismiss } = list(snail);
  const note = container.querySelector(".uploads-note")!;
  // The way on had the focus, which holds the note too.
  act(() => (document.activeElement as HTMLElement).blur());

  fireEvent.pointerEnter(note);
  act(() => void vi.advanceTimersByTime(60_000));
  expect(onDismiss).not.toHaveBeenCalled();
  fireEvent.pointerLeave(note);
  act(() => void vi.advanceTimersByTime(3_000));
  expect(onDismiss).not.toHaveBeenCalled();
  act(() => void vi.advanceTimersByTime(20_000));
  expect(onDismiss).toHaveBeenCalled();
});

test("what went wrong stays with its reason until it is put away", () => {
  const { onDismiss } = list(snail, bad);

  act(() => void vi.advanceTimersByTime(60_000));
  expect(onDismiss).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toContain(
    "a.txt was left out. This is no picture.",
  );
  fireEvent.click(screen.getByLabelText("Put this note away"));
  expect(onDismiss).toHaveBeenCalledOnce();
});

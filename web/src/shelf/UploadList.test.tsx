import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { UploadList } from "./UploadList";
import type { Upload } from "./useUploads";

const uploads: Upload[] = [
  { key: 1, name: "pears.jpg", state: "waiting", sentence: "" },
  { key: 2, name: "notes.txt", state: "failed", sentence: "This is not a picture." },
  { key: 3, name: "snail.gif", state: "ready", sentence: "The first picture was taken." },
];

afterEach(cleanup);

test("nothing is shown while nothing comes in", () => {
  const { container } = render(<UploadList uploads={[]} onDismiss={vi.fn()} />);

  expect(container.innerHTML).toBe("");
});

test("each file says what became of it, with the reason", () => {
  render(<UploadList uploads={uploads} onDismiss={vi.fn()} />);
  const lines = screen.getAllByRole("listitem").map((line) => line.textContent);

  expect(lines[0]).toContain("pears.jpg is coming in…");
  expect(lines[1]).toContain("notes.txt was left out. This is not a picture.");
  expect(lines[2]).toContain("snail.gif is on the shelf. The first picture was taken.");
});

test("a note that is over can be put away, one under way cannot", () => {
  const onDismiss = vi.fn();
  render(<UploadList uploads={uploads} onDismiss={onDismiss} />);

  expect(screen.queryByLabelText("Dismiss the note about pears.jpg")).toBeNull();
  fireEvent.click(screen.getByLabelText("Dismiss the note about notes.txt"));
  expect(onDismiss).toHaveBeenCalledExactlyOnceWith(2);
});

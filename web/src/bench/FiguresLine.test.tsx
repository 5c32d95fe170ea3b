import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import type { Answer } from "../api/client";
import { FiguresLine } from "./FiguresLine";

function answer(figures: Partial<NonNullable<Answer["figures"]>> | null): Answer {
  return { ms: 41.6, figures: figures && { ink: 0.345, marks: null, ...figures } } as Answer;
}

afterEach(cleanup);

test("ink is told in per cent, and the time in whole milliseconds", () => {
  render(<FiguresLine answer={answer({})} isBusy={false} />);

  expect(screen.getByTestId("ink").textContent).toMatch(/^3[45] %$/);
  expect(screen.getByText("drawn in 42 ms")).toBeTruthy();
});

test("marks are told only where there are any", () => {
  const { rerender } = render(<FiguresLine answer={answer({})} isBusy={false} />);
  expect(screen.queryByTestId("marks")).toBeNull();

  rerender(<FiguresLine answer={answer({ marks: 23284 })} isBusy={false} />);
  expect(screen.getByTestId("marks").textContent).toBe("23,284");
});

test("while it draws it says so, and keeps the last figures", () => {
  render(<FiguresLine answer={answer({ ink: 0.5 })} isBusy />);

  expect(screen.getByText("drawing…")).toBeTruthy();
  expect(screen.getByTestId("ink").textContent).toBe("50 %");
});

test("before the first answer there is nothing to tell but the keys", () => {
  render(<FiguresLine answer={undefined} isBusy={false} />);

  expect(screen.queryByTestId("ink")).toBeNull();
  expect(screen.getByText("keys")).toBeTruthy();
});

import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import type { Answer, Plate, PrintReport } from "../../api/client";
import { catalogueOf } from "../../sheet/catalogue.testing";
import { FiguresLine } from "./FiguresLine";
import type { Highlight } from "./useJudging";

function answer(figures: Partial<NonNullable<Answer["figures"]>> | null): Answer {
  const full = figures && { ink: 0.345, marks: null, plates: [], ...figures };
  return { ms: 41.6, figures: full } as unknown as Answer;
}

function report(more: Partial<PrintReport>): PrintReport {
  return {
    plate: "plate-1",
    is_grey: false,
    ink: 0.3,
    precision_mm: 0.083,
    thinnest_mm: 0.25,
    narrowest_mm: 0.3,
    thin_ink: 0,
    narrow_paper: 0,
    specks: 0,
    thin_spots: [],
    narrow_spots: [],
    speck_spots: [],
    ...more,
  };
}

function line(more: Partial<Parameters<typeof FiguresLine>[0]> = {}) {
  return (
    <FiguresLine
      limits={catalogueOf().limits}
      answer={answer({})}
      isBusy={false}
      plate={undefined}
      reports={undefined}
      lostShare={undefined}
      isFresh
      highlight={null}
      onHighlight={() => {}}
      {...more}
    />
  );
}

afterEach(cleanup);

test("ink is told in per cent, and the time in whole milliseconds", () => {
  render(line());

  expect(screen.getByTestId("ink").textContent).toMatch(/^3[45] %$/);
  expect(screen.getByText("42 ms")).toBeTruthy();
});

test("marks are told only where there are any", () => {
  const { rerender } = render(line());
  expect(screen.queryByTestId("marks")).toBeNull();

  rerender(line({ answer: answer({ marks: 23284 }) }));
  expect(screen.getByTestId("marks").textContent).toBe("23,284");
});

test("while it draws it says so, and keeps the last figures", () => {
  render(line({ answer: answer({ ink: 0.5 }), isBusy: true }));

  expect(screen.getByText("drawing…")).toBeTruthy();
  expect(screen.getByTestId("ink").textContent).toBe("50 %");
});

test("before the first answer there is nothing to tell but the keys", () => {
  render(line({ answer: undefined }));

  expect(screen.queryByTestId("ink")).toBeNull();
  expect(screen.getByText("keys")).toBeTruthy();
});

test("the chosen one of several plates tells what it adds", () => {
  const plates = [
    { plate: "plate-1", alone: 0.2, without: 0.31 },
    { plate: "plate-2", alone: 0.31, without: 0.2 },
  ];
  render(line({ answer: answer({ plates }), plate: { id: "plate-2" } as Plate }));

  expect(screen.getByTestId("plate-ink").textContent).toBe("alone 31 % · without 20 %");
});

test("the worst plate's lines and gaps are told, and a bad one warns and leads to its places", () => {
  const shown: (Highlight | null)[] = [];
  const reports = [report({}), report({ thinnest_mm: 0.083, specks: 14 })];
  render(line({ reports, lostShare: 0.03, onHighlight: (each) => shown.push(each) }));

  const thin = screen.getByRole("button", { name: /thinnest/ });
  expect(thin.textContent).toBe("▲ thinnest < 0.09 mm");
  expect(screen.getByRole("button", { name: /gap/ }).textContent).toBe("gap 0.30 mm");
  expect(screen.getByRole("button", { name: /speck/ }).textContent).toBe("▲ 14 specks");
  expect(screen.getByTestId("lost").textContent).toBe("3.0 %");
  fireEvent.click(thin);
  expect(shown).toEqual(["thin"]);
});

test("greys have no lines to tell of", () => {
  render(line({ reports: [report({ is_grey: true, thinnest_mm: null, narrowest_mm: null })] }));

  expect(screen.queryByRole("button", { name: /thinnest/ })).toBeNull();
  expect(screen.getByText("greys")).toBeTruthy();
});

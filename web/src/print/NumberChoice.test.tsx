import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { mended } from "./Checks";
import { NumberChoice } from "../shared/NumberChoice";
import type { Check, Sheet } from "../api/client";

afterEach(cleanup);

test("a number is taken within its bounds, and what is none is put back", () => {
  const onChange = vi.fn();
  render(
    <NumberChoice
      label="Nib, mm"
      value={0.4}
      least={0.1}
      most={2}
      step={0.1}
      onChange={onChange}
    />,
  );
  const field = screen.getByLabelText<HTMLInputElement>("Nib, mm");

  fireEvent.change(field, { target: { value: "" } });
  fireEvent.change(field, { target: { value: "9" } });
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.change(field, { target: { value: "0.8" } });
  expect(onChange).toHaveBeenCalledExactlyOnceWith(0.8);

  fireEvent.blur(field);
  expect(field.value).toBe("0.4");
  expect(screen.queryByRole("alert")).toBeNull();
});

test("a mend of a plate in step with another makes the stage its own", () => {
  const plate = { id: "b", follows: "a", own: [] as string[] };
  const sheet = { plates: [{ id: "a" }, plate] } as unknown as Sheet;
  const check = { kind: "thin", sentence: "", stage: "clean", plate } as unknown as Check;

  expect(mended(sheet, check).plates[1]!.own).toEqual(["clean"]);
});

test("a mend changes its plate or the paper, and nothing else", () => {
  const sheet = { paper: { size: "as-picture" }, plates: [{ id: "a" }, { id: "b" }] } as Sheet;
  const ofPlate = { kind: "thin", sentence: "", plate: { id: "b", name: "new" } } as Check;
  const ofPaper = { kind: "size", sentence: "", paper: { long_edge: 200 } } as unknown as Check;

  expect(mended(sheet, ofPlate).plates).toEqual([{ id: "a" }, { id: "b", name: "new" }]);
  expect(mended(sheet, ofPlate).paper).toBe(sheet.paper);
  expect(mended(sheet, ofPaper).paper).toEqual({ long_edge: 200 });
});

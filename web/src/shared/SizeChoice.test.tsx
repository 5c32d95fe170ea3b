import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { Wish } from "../api/client";
import { SizeChoice } from "./SizeChoice";

afterEach(cleanup);

const wish: Wish = { format: "png", depth: "1-bit", greys: "cut", dpi: 300 };

test("a size that was offered and taken is shown where it can be typed", () => {
  const onChange = vi.fn();
  const { rerender } = render(<SizeChoice wanted={wish} onChange={onChange} />);

  rerender(<SizeChoice wanted={{ ...wish, dpi: 508 }} onChange={onChange} />);

  expect(screen.getByRole<HTMLInputElement>("spinbutton", { name: "Dots an inch" }).value).toBe(
    "508",
  );
});

test("what is typed is asked for as it is typed", () => {
  const onChange = vi.fn();
  render(<SizeChoice wanted={wish} onChange={onChange} />);
  const field = screen.getByRole<HTMLInputElement>("spinbutton", { name: "Dots an inch" });

  fireEvent.change(field, { target: { value: "60" } });

  expect(onChange).toHaveBeenCalledWith({ dpi: 60, long_edge_px: null });
  expect(field.value).toBe("60");
});

test("sizes that were wanted before are shown where they can be typed", () => {
  const { rerender } = render(<SizeChoice wanted={{ ...wish, dpi: 600 }} onChange={vi.fn()} />);
  const [dpi, edge] = screen.getAllByRole<HTMLInputElement>("spinbutton");
  expect(dpi!.value).toBe("600");

  rerender(<SizeChoice wanted={{ ...wish, dpi: null, long_edge_px: 1200 }} onChange={vi.fn()} />);

  expect([dpi!.value, edge!.value]).toEqual(["600", "1200"]);
});

test("the first digits of a size are not asked for, and what stays out of bounds is said", () => {
  const onChange = vi.fn();
  render(<SizeChoice wanted={wish} onChange={onChange} />);
  const field = screen.getByRole<HTMLInputElement>("spinbutton", { name: "Dots an inch" });

  fireEvent.change(field, { target: { value: "6" } });
  expect([field.value, screen.queryByRole("alert")]).toEqual(["6", null]);
  fireEvent.change(field, { target: { value: "48000" } });
  fireEvent.blur(field);

  expect(onChange).not.toHaveBeenCalled();
  expect(field.value).toBe("300");
  const said = screen.getByRole("alert").textContent;
  expect(said).toBe("Dots an inch: 10 to 4800. It stays at 300.");
});

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

import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { dialSpec } from "../../shared/dialSpec.testing";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { ColourDial } from "./ColourDial";
import { colourOf } from "../../shared/HexField";

beforeEach(() => window.localStorage.clear());
afterEach(cleanup);

function colour() {
  const onChange = vi.fn<(value: string, gesture: string) => void>();
  const spec = dialSpec("colour", { kind: "colour" });
  const acts = { onStrip: vi.fn(), onTouch: vi.fn(), onPick: vi.fn() };
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ColourDial
        reference="ink.colour"
        spec={spec}
        pots={[{ name: "Pond", colour: "#1f6f66" }]}
        value="#000000"
        onChange={onChange}
        {...acts}
      />
    </QueryClientProvider>,
  );
  const input = screen.getByLabelText("Colour");
  const chosen = (value: string) => fireEvent.change(input, { target: { value } });
  return {
    ...acts,
    onChange,
    input,
    chosen,
    gestures: () => onChange.mock.calls.map(([, gesture]) => gesture),
  };
}

test("colours tried while the chooser is open are one step of undo", () => {
  const { input, chosen, gestures } = colour();

  fireEvent.pointerDown(input);
  chosen("#112233");
  chosen("#445566");

  expect(new Set(gestures()).size).toBe(1);
  expect(gestures()[0]).not.toBe("");
});

test("a chooser opened again begins another step, and no two colours share one by name", () => {
  const { input, chosen, gestures } = colour();
  fireEvent.pointerDown(input);
  chosen("#112233");
  fireEvent.pointerDown(input);
  chosen("#445566");
  cleanup();
  const other = colour();
  fireEvent.pointerDown(other.input);
  other.chosen("#778899");

  expect(new Set([...gestures(), ...other.gestures()]).size).toBe(3);
});

test("a pot is one press away, and what was used lately is offered too", () => {
  const { onChange } = colour();

  fireEvent.click(screen.getByRole("button", { name: "Pond" }));
  expect(onChange.mock.lastCall![0]).toBe("#1f6f66");
  const field = screen.getByLabelText("Colour, written as #rrggbb");
  fireEvent.change(field, { target: { value: "B5381F" } });
  fireEvent.blur(field);
  expect(onChange.mock.lastCall![0]).toBe("#b5381f");
  expect(screen.getByRole("button", { name: "#b5381f, used lately" })).toBeTruthy();
});

test.each(["red", "#12", "12345g", ""])("what is no colour is refused: %j", (text) => {
  const { onChange } = colour();
  const field = screen.getByLabelText("Colour, written as #rrggbb");

  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);

  expect(onChange).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toContain("It stays at #000000");
});

test("Esc leaves a colour as it was", () => {
  const { onChange } = colour();
  const field = screen.getByLabelText("Colour, written as #rrggbb");
  field.focus();
  fireEvent.change(field, { target: { value: "#fff" } });

  fireEvent.keyDown(field, { key: "Escape" });

  expect(onChange).not.toHaveBeenCalled();
  expect(field).toHaveProperty("value", "#000000");
});

test("three digits are a colour too", () => {
  expect([colourOf("#1aF"), colourOf(" 00ff00 "), colourOf("#12345")]).toEqual([
    "#11aaff",
    "#00ff00",
    null,
  ]);
});

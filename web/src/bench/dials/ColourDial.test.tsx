import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { dialSpec } from "../../shared/dialSpec.testing";
import { ColourDial } from "./ColourDial";

afterEach(cleanup);

function colour() {
  const onChange = vi.fn<(value: string, gesture: string) => void>();
  const spec = dialSpec("colour", { kind: "colour" });
  render(<ColourDial reference="ink.colour" spec={spec} value="#000000" onChange={onChange} />);
  const input = screen.getByLabelText("Colour");
  const chosen = (value: string) => fireEvent.change(input, { target: { value } });
  return { input, chosen, gestures: () => onChange.mock.calls.map(([, gesture]) => gesture) };
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

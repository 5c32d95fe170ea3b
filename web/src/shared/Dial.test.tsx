import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import type { DialSpec } from "../api/client";
import { Dial } from "./Dial";

const spec: DialSpec = {
  name: "softness",
  kind: "dial",
  label: "Softness",
  hint: "From a fine outline to full modelling",
  start: 2.2,
  unit: "mm",
  minimum: 0.1,
  maximum: 40,
  low: 0.2,
  high: 12,
  step: 0.1,
  options: [],
  only_for: {},
  group: "",
  mm_of_one: {},
  mm_times: "",
  idle_at: {},
};

afterEach(cleanup);

function typed(text: string, onChange = vi.fn()) {
  render(<Dial spec={spec} value={2} onChange={onChange} />);
  const field = screen.getByLabelText("Softness, value in mm");
  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);
  return onChange;
}

test("a typed value beyond the track but within the limits is taken", () => {
  expect(typed("39.5").mock.calls[0]?.[0]).toBe(39.5);
});

test.each(["", "soft", "0", "41", "NaN"])("the bad value %j is refused with its limits", (text) => {
  expect(typed(text)).not.toHaveBeenCalled();
  expect(screen.getByRole("alert").textContent).toContain("0.1 to 40.0 mm");
});

test("what is refused of a dial without a unit is said in one plain sentence", () => {
  render(<Dial spec={{ ...spec, unit: "" }} value={2} onChange={vi.fn()} />);
  const field = screen.getByLabelText("Softness, value");
  fireEvent.change(field, { target: { value: "41" } });
  fireEvent.blur(field);

  const said = screen.getByRole("alert").textContent;
  expect(said).toContain("Softness can be 0.1 to 40.0. It stays at 2.0.");
});

test.each([
  ["Enter", "39.5", [[39.5]]],
  ["Escape", "39.5", []],
])("%s leaves the field for the slider", (key, text, changes) => {
  const onChange = vi.fn();
  render(<Dial spec={spec} value={2} onChange={onChange} />);
  const field = screen.getByLabelText("Softness, value in mm");
  field.focus();
  fireEvent.change(field, { target: { value: text } });

  fireEvent.keyDown(field, { key });

  expect(document.activeElement).toBe(screen.getByRole("slider"));
  expect(onChange.mock.calls.map(([value]) => [value as number])).toEqual(changes);
  expect(field).toHaveProperty("value", "2.0");
});

test("a double click on the name goes back to the starting value", () => {
  const onChange = vi.fn();
  render(<Dial spec={spec} value={7} onChange={onChange} />);

  fireEvent.doubleClick(screen.getByText("Softness"));

  expect(onChange.mock.calls[0]?.[0]).toBe(2.2);
});

test("changes of one drag carry one gesture", () => {
  const onChange = vi.fn();
  render(<Dial spec={spec} value={7} onChange={onChange} />);
  const slider = screen.getByRole("slider");

  fireEvent.pointerDown(slider);
  fireEvent.change(slider, { target: { value: "7.5" } });
  fireEvent.change(slider, { target: { value: "8" } });
  fireEvent.pointerDown(slider);
  fireEvent.change(slider, { target: { value: "9" } });

  const gestures = onChange.mock.calls.map((call) => call[1] as string);
  expect(gestures[0]).toBe(gestures[1]);
  expect(gestures[2]).not.toBe(gestures[0]);
});

test("the tick takes the suggested value", () => {
  const onChange = vi.fn();
  render(<Dial spec={spec} value={7} suggested={3.3} onChange={onChange} />);

  fireEvent.click(screen.getByRole("button"));

  expect(onChange.mock.calls[0]?.[0]).toBe(3.3);
});

test("from the slider Enter goes to the field, and Backspace to the starting value", () => {
  const onChange = vi.fn();
  render(<Dial spec={spec} value={2} onChange={onChange} />);
  const slider = screen.getByRole("slider");
  slider.focus();

  fireEvent.keyDown(slider, { key: "Backspace" });
  expect(onChange.mock.lastCall![0]).toBe(2.2);
  fireEvent.keyDown(slider, { key: "Enter" });
  expect(document.activeElement).toBe(screen.getByLabelText("Softness, value in mm"));
});

test("a dial is two stops for Tab: its slider and its value", () => {
  const onStrip = vi.fn();
  const { container } = render(
    <Dial spec={spec} value={2} suggested={5} onChange={vi.fn()} onStrip={onStrip} />,
  );

  const controls = [...container.querySelectorAll<HTMLElement>("input, button")];
  expect(controls.filter((each) => each.tabIndex >= 0)).toHaveLength(2);
  fireEvent.click(screen.getByRole("button", { name: "Test strip of Softness" }));
  expect(onStrip).toHaveBeenCalledOnce();
});

test("a length may be typed in inches", () => {
  expect(typed("1 in").mock.calls[0]?.[0]).toBe(25.4);
});

test("a dial that does nothing yet says what has to be turned", () => {
  const { rerender } = render(<Dial spec={spec} value={2} idleFor="Contrast" onChange={vi.fn()} />);
  const told = () =>
    document.getElementById(screen.getByRole("slider").getAttribute("aria-describedby")!);
  expect(told()?.textContent).toBe("Does nothing until Contrast is turned");

  rerender(<Dial spec={spec} value={2} onChange={vi.fn()} />);
  expect(told()?.textContent).toBe(spec.hint);
});

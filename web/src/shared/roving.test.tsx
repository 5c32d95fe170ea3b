import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { useRoving } from "./roving";

afterEach(cleanup);

function Bar({ names, off = "" }: { names: string[]; off?: string }) {
  const roving = useRoving<HTMLDivElement>();
  return (
    <div {...roving}>
      {names.map((name) => (
        <button key={name} type="button" disabled={name === off} aria-pressed={name === "two"}>
          {name}
        </button>
      ))}
      <input aria-label="typed" />
    </div>
  );
}

const button = (name: string) => screen.getByRole("button", { name });
const stops = () => screen.getAllByRole("button").filter((each) => each.tabIndex === 0);

test("a group is one stop for Tab, at what is chosen", () => {
  render(<Bar names={["one", "two", "three"]} />);

  expect(stops()).toEqual([button("two")]);
});

test("arrows go from one to the next and no farther, Home and End to the ends", () => {
  render(<Bar names={["one", "two", "three"]} />);
  act(() => button("two").focus());

  const press = (key: string) => fireEvent.keyDown(document.activeElement!, { key });
  press("ArrowRight");
  expect(document.activeElement).toBe(button("three"));
  expect(stops()).toEqual([button("three")]);
  press("ArrowRight");
  expect(document.activeElement).toBe(button("three"));
  press("Home");
  expect(document.activeElement).toBe(button("one"));
  press("End");
  expect(document.activeElement).toBe(button("three"));
});

test("what cannot be pressed is passed over, and a field keeps its arrows", () => {
  render(<Bar names={["one", "two", "three"]} off="two" />);
  act(() => button("one").focus());

  fireEvent.keyDown(button("one"), { key: "ArrowRight" });
  expect(document.activeElement).toBe(button("three"));
  const field = screen.getByLabelText("typed");
  act(() => field.focus());
  fireEvent.keyDown(field, { key: "Home" });
  expect(document.activeElement).toBe(field);
});

test("when the stop goes away another takes its place", async () => {
  const { rerender } = render(<Bar names={["one", "two", "three"]} />);
  rerender(<Bar names={["one", "three"]} />);

  await act(async () => {});
  expect(stops()).toHaveLength(1);
});

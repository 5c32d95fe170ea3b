import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { memo, useState } from "react";
import { afterEach, expect, test } from "vitest";
import { useSame, useSteady } from "./steady";

afterEach(cleanup);

function counted() {
  const drawn = { times: 0 };
  const Child = memo(function Child(props: { words?: string[]; onTell?: () => void }) {
    drawn.times += 1;
    return <button onClick={props.onTell}>{props.words?.join(" ") ?? "tell"}</button>;
  });
  return { Child, drawn };
}

test("a steady function calls the newest and draws nothing again", () => {
  const { Child, drawn } = counted();
  const told: number[] = [];
  function Parent() {
    const [count, setCount] = useState(0);
    const on = useSteady({ onTell: () => told.push(count) });
    return (
      <>
        <Child {...on} />
        <button onClick={() => setCount(count + 1)}>more</button>
      </>
    );
  }
  render(<Parent />);

  fireEvent.click(screen.getByText("more"));
  fireEvent.click(screen.getByText("more"));
  fireEvent.click(screen.getByText("tell"));

  expect(told).toEqual([2]);
  expect(drawn.times).toBe(1);
});

test("an equal value stays the same object, another one is taken at once", () => {
  const { Child, drawn } = counted();
  let put: (words: string[]) => void = () => undefined;
  function Parent() {
    const [words, setWords] = useState(["ink"]);
    put = setWords;
    return <Child words={useSame(words)} />;
  }
  render(<Parent />);

  act(() => put(["ink"]));
  expect(drawn.times).toBe(1);

  act(() => put(["ink", "line"]));
  expect(screen.getByText("ink line")).toBeTruthy();
  act(() => put(["ink"]));
  expect(screen.getByText("ink")).toBeTruthy();
});

import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { Link, MemoryRouter, Route, Routes } from "react-router";
import { afterEach, expect, test } from "vitest";
import { useLeadingTo } from "./useLeadingTo";

afterEach(cleanup);

/** A page with a button that leads to another when its work ends, and one to leave it before. */
function opened() {
  const begun: ((address: string) => void)[] = [];
  function Begin() {
    const lead = useLeadingTo();
    const work = () => new Promise<string>((done) => begun.push(done));
    return (
      <>
        <button onClick={() => void lead(work)}>Draw</button>
        <Link to="/shelf">Shelf</Link>
      </>
    );
  }
  render(
    <MemoryRouter>
      <Routes>
        <Route path="/" element={<Begin />} />
        <Route path="/shelf" element="the shelf" />
        <Route path="/sheets/:id" element="the bench" />
      </Routes>
    </MemoryRouter>,
  );
  const end = (address: string) => act(async () => begun.at(-1)?.(address));
  return { begun, end };
}

test("what was begun leads to its page, and a second press begins nothing", async () => {
  const { begun, end } = opened();

  fireEvent.click(screen.getByText("Draw"));
  fireEvent.click(screen.getByText("Draw"));
  expect(begun).toHaveLength(1);
  await end("/sheets/7");

  expect(screen.queryByText("the bench")).not.toBeNull();
});

test("who has left meanwhile is not led away", async () => {
  const { end } = opened();

  fireEvent.click(screen.getByText("Draw"));
  fireEvent.click(screen.getByText("Shelf"));
  await end("/sheets/7");

  expect(screen.queryByText("the shelf")).not.toBeNull();
});

import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { Link, MemoryRouter, Route, Routes, useLocation } from "react-router";
import { afterEach, expect, test, vi } from "vitest";
import { Broken } from "./Broken";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

function Breaks(): React.ReactNode {
  throw new Error("no such plate");
}

function Pages() {
  return (
    <Broken at={useLocation().pathname}>
      <Routes>
        <Route path="/" element={<Link to="/sheets/7">the shelf</Link>} />
        <Route path="/sheets/:id" element={<Breaks />} />
      </Routes>
    </Broken>
  );
}

test("a page that breaks says so and leads on to others", () => {
  // React tells the console of it.
  vi.spyOn(console, "error").mockImplementation(() => {});
  render(
    <MemoryRouter>
      <Pages />
    </MemoryRouter>,
  );

  fireEvent.click(screen.getByText("the shelf"));

  expect(screen.getByRole("alert").textContent).toContain("no such plate");
  expect(screen.queryByText("Load it anew")).not.toBeNull();
  fireEvent.click(screen.getByText("Back to the shelf"));
  expect(screen.queryByText("the shelf")).not.toBeNull();
});

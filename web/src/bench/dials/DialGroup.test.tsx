import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { DialGroup } from "./DialGroup";

afterEach(cleanup);

test("dials without a heading just stand there", () => {
  const { container } = render(
    <DialGroup title="" isOpen={false}>
      <span>Radius</span>
    </DialGroup>,
  );

  expect(screen.getByText("Radius")).toBeTruthy();
  expect(container.querySelector("details")).toBeNull();
});

test("a heading folds its dials away until someone opens it", () => {
  const { container } = render(
    <DialGroup title="Light" isOpen={false}>
      <span>Shadows</span>
    </DialGroup>,
  );
  const group = container.querySelector("details")!;

  expect(group.open).toBe(false);
  group.open = true;
  fireEvent(group, new Event("toggle"));
  expect(group.open).toBe(true);
});

test("a group with a turned dial stands open", () => {
  const { container } = render(
    <DialGroup title="Light" isOpen>
      <span>Shadows</span>
    </DialGroup>,
  );

  expect(container.querySelector("details")!.open).toBe(true);
});

test("what was closed by hand stays closed while dials change", () => {
  const { container, rerender } = render(
    <DialGroup title="Light" isOpen>
      <span>Shadows</span>
    </DialGroup>,
  );
  const group = container.querySelector("details")!;
  group.open = false;
  fireEvent(group, new Event("toggle"));

  rerender(
    <DialGroup title="Light" isOpen>
      <span>Highlights</span>
    </DialGroup>,
  );

  expect(group.open).toBe(false);
});

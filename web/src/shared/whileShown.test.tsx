import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { whileShown } from "./whileShown";

afterEach(cleanup);

const drawn: string[] = [];
const Dialog = whileShown(function Dialog({ show, words }: { show: boolean; words: string }) {
  drawn.push(words);
  return show ? <p>{words}</p> : null;
});

test("a dialog is drawn anew while it is shown, and as it opens and closes", () => {
  const { rerender } = render(<Dialog show={false} words="first" />);
  rerender(<Dialog show={false} words="unseen" />);
  rerender(<Dialog show words="opened" />);
  rerender(<Dialog show words="changed" />);
  screen.getByText("changed");
  rerender(<Dialog show={false} words="closed" />);
  rerender(<Dialog show={false} words="unseen, too" />);

  expect(drawn).toEqual(["first", "opened", "changed", "closed"]);
  expect(screen.queryByText("closed")).toBeNull();
});

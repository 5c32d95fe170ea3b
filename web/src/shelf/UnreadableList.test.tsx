import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { UnreadableList } from "./UnreadableList";

const badge = {
  kind: "sheet",
  id: 4,
  sheet_id: 4,
  title: "Badge",
  why: "Level is 9.",
  steps_back: 2,
};
const book = {
  kind: "recipe",
  id: 1,
  sheet_id: null,
  title: "Tee",
  why: "No plates.",
  steps_back: 0,
};

let stored: object[];
let undo: () => Response;

beforeEach(() => {
  stored = [badge, book];
  undo = () => {
    stored = [book];
    return Response.json({});
  };
  vi.stubGlobal("fetch", (request: Request) =>
    Promise.resolve(request.method === "POST" ? undo() : Response.json(stored)),
  );
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function shown() {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <UnreadableList />
    </QueryClientProvider>,
  );
}

test("each is named with the reason, and a sheet with earlier steps has a way back", async () => {
  shown();

  const lines = await screen.findAllByRole("alert");
  expect(lines[0]!.textContent).toContain("The sheet “Badge” cannot be read");
  expect(lines[0]!.textContent).toContain("Level is 9.");
  expect(lines[1]!.textContent).toContain("The recipe “Tee”");
  expect(screen.getAllByRole("button")).toHaveLength(1);
});

test("what can be read again is named no more", async () => {
  shown();

  fireEvent.click(await screen.findByRole("button"));

  await waitFor(() => expect(screen.queryByText(/Badge/)).toBeNull());
  expect(screen.getByText(/Tee/)).toBeTruthy();
});

test("a step that cannot be read either is told", async () => {
  undo = () => Response.json({ detail: "Plates are missing." }, { status: 422 });
  shown();

  fireEvent.click(await screen.findByRole("button"));

  await screen.findByText(/The step before cannot be read either. Plates are missing./);
});

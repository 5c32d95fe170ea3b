import { expect, test } from "vitest";
import { contactViews } from "./useRecipeWall";

test("every recipe is drawn in its order, the first row as drafts before that, quick ones first", () => {
  const refs = Array.from({ length: 40 }, (_, number) => `house-${number}`);
  const views = contactViews(refs, new Set(["house-3", "house-30"]));

  const drafts = views.filter((view) => view.draft);
  expect(drafts).toEqual(views.slice(0, drafts.length));
  expect(drafts.length).toBeGreaterThan(0);
  expect(views.slice(drafts.length).map((view) => view.recipe)).toEqual(refs);
  const [first, ...others] = drafts.map((view) => view.recipe);
  expect(first).toBe("house-3");
  expect(others).toEqual(refs.slice(0, drafts.length).filter((ref) => ref !== first));
});

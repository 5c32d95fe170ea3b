import { expect, test } from "vitest";
import type { RecipeRecord } from "../api/client";
import { isFound, recipeLabel } from "./recipes";

function record(name: string, own: boolean, purpose = ""): RecipeRecord {
  return { ref: "x", own, recipe: { name, purpose, notes: "" } } as unknown as RecipeRecord;
}

test("names that Flinz brings read as words; own names stay as typed", () => {
  expect(recipeLabel(record("tee-one-colour", false))).toBe("Tee one colour");
  expect(recipeLabel(record("my-tee", true))).toBe("my-tee");
});

test("a recipe is found by every word, in any order and case", () => {
  const tee = record("tee-one-colour", false, "Bold shapes that cut clean");

  expect(isFound(tee, "")).toBe(true);
  expect(isFound(tee, "clean TEE")).toBe(true);
  expect(isFound(tee, "clean poster")).toBe(false);
});

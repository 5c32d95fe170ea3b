import type { RecipeRecord } from "../api/client";

/** A recipe's name as it is shown: those that Flinz brings are written as words. */
export function recipeLabel(record: RecipeRecord): string {
  const { name } = record.recipe;
  if (record.own) return name;
  const words = name.replaceAll("-", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Whether a recipe's name, purpose or notes hold every word that was typed. */
export function isFound(record: RecipeRecord, typed: string): boolean {
  const { name, purpose, notes } = record.recipe;
  const text = `${recipeLabel(record)} ${name} ${purpose} ${notes}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

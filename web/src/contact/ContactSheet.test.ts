import { expect, test } from "vitest";
import { figureWords } from "./ContactSheet";

test("the figures behind the order are told in words", () => {
  const words = figureWords({ parted: 0.8, fine: 0.1, led: 0.9, spread: 0.3 });

  expect(words).toContain("broad forms");
  expect(words).toContain("edges that lead the pen");
  expect(words).toContain("a short range of tone");
  expect(words).toContain("darks and lights stand apart");
});

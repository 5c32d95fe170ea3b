import { expect, test } from "vitest";
import { added, angleOf, hueName, placeOf, pulledAt, RING, turned } from "./ring";

const orange = { hue: 30, pull: 0.2, reach: 60 };

test.each([0, 30, 90, 200, 359])(
  "a point is drawn where pressing it finds it again: %i°",
  (hue) => {
    for (const pull of [-1, -0.4, 0, 0.7, 1]) {
      const found = placeOf(...angleOf({ hue, pull, reach: 60 }));
      expect(found.hue % 360).toBe(hue);
      expect(found.pull).toBeCloseTo(pull);
    }
  },
);

test("further out is lighter, and beyond the ring no lighter still", () => {
  const at = (radius: number) => placeOf(RING.middle, RING.middle - radius);

  expect(at(RING.level)).toEqual({ hue: 0, pull: 0 });
  expect(at(RING.level + RING.swing / 2).pull).toBeCloseTo(0.5);
  expect([at(500).pull, at(1).pull]).toEqual([1, -1]);
});

test("a pull on the photo moves the point of that hue, or adds one while there is room", () => {
  expect(pulledAt([orange], 41, 0.3, 8)).toEqual([{ hue: 30, pull: 0.5, reach: 60 }]);
  expect(pulledAt([{ ...orange, hue: 355 }], 5, -0.3, 8)?.[0]).toMatchObject({
    hue: 355,
    pull: -0.1,
  });
  expect(pulledAt([orange], 210.4, -2, 8)).toEqual([orange, { hue: 210, pull: -1, reach: 60 }]);
  expect(pulledAt([orange], 210, 0.1, 1)).toBeNull();
});

test("keys pull, move and widen a point within its limits", () => {
  expect(turned(orange, "ArrowUp", false)?.pull).toBeCloseTo(0.22);
  expect(turned({ ...orange, pull: -1 }, "ArrowDown", true)?.pull).toBe(-1);
  expect(turned({ ...orange, hue: 1 }, "ArrowLeft", false)?.hue).toBe(359);
  expect(turned({ ...orange, reach: 180 }, "+", false)?.reach).toBe(180);
  expect(turned(orange, "x", false)).toBeUndefined();
});

test("a new point pulls as it was pressed, and hues have names", () => {
  expect(added({ hue: 360, pull: 0.3 })).toEqual({ hue: 0, pull: 0.3, reach: 60 });
  expect([hueName(0), hueName(44), hueName(359), hueName(240)]).toEqual([
    "red",
    "orange",
    "red",
    "blue",
  ]);
});

import { describe, expect, it } from "vitest";
import { nearest } from "@/shared/span";
import { bandOf, isolines } from "./places";

describe("the map's places", () => {
  it("finds the nearest value of an axis", () => {
    expect(nearest([1, 10, 100], 30)).toBe(1);
    expect(nearest([1, 10, 100], 80)).toBe(2);
  });
  it("cuts a span into round bands, nine at most", () => {
    for (const span of [0.02, 0.9, 7, 135, 141, 4000]) {
      const step = bandOf(span);
      expect(span / step).toBeLessThanOrEqual(9);
      expect(span / step).toBeGreaterThan(3);
      expect([1, 2, 2.5, 5]).toContain(Number((step / 10 ** Math.floor(Math.log10(step) + 1e-9)).toPrecision(3)));
    }
  });
  it("puts a label where a level is crossed, and none where it is not", () => {
    const grid = Array.from({ length: 10 }, (_, r) => Array.from({ length: 30 }, (_, c) => c + r));
    expect(isolines(grid, [20, 100])).toEqual([{ level: 20, at: { row: 3, column: 17 } }]);
    expect(isolines([[null]], [1])).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import { between, LEAST, nearest, wider } from "./span";

describe("a stretch of a plot", () => {
  it("keeps the place under the pointer where it stands", () => {
    const [from, to] = wider([0, 400], 100, 0.5, 400);
    expect([from, to]).toEqual([50, 250]);
    expect((100 - from) / (to - from)).toBe(0.25);
  });

  it("never leaves the row, nor grows narrower than what still tells a line", () => {
    expect(wider([0, 100], 90, 4, 120)).toEqual([0, 120]);
    expect(wider([50, 56], 53, 0.1, 120)).toEqual([53, 53 + LEAST]);
    expect(wider([114, 120], 120, 0.1, 120)).toEqual([114, 120]);
    expect(between(80, 20, 120)).toEqual([20, 80]);
    expect(between(119, 120, 120)).toEqual([114, 120]);
    expect(between(0, 3, 4)).toEqual([0, 4]);
  });

  it("finds the nearest place of rows that are not evenly spaced", () => {
    const x = [0, 1, 2, 10, 100];
    expect([-5, 0.4, 0.6, 5.9, 6.1, 54, 56, 1e9].map((to) => nearest(x, to))).toEqual([0, 0, 1, 2, 3, 3, 4, 4]);
  });
});

import { describe, expect, it } from "vitest";
import { digitsOf } from "./digits";

describe("digits of an axis", () => {
  it("are three where the line moves by much", () => {
    expect(digitsOf([[0, 5000]])).toBe(3);
    expect(digitsOf([[0.58, 0.68]])).toBe(3);
    expect(digitsOf([[], [null]])).toBe(3);
    expect(digitsOf([[12.8, 12.8]])).toBe(3);
  });

  it("tell a ripple of some millivolts on a supply apart", () => {
    const digits = digitsOf([[12.795, null], [12.803]]);
    const ticks = [12.796, 12.798, 12.8, 12.802].map((v) => v.toPrecision(digits));
    expect(new Set(ticks).size).toBe(4);
  });

  it("never tell more than doubles hold well", () => {
    expect(digitsOf([[1, 1 + 1e-12]])).toBe(7);
  });
});

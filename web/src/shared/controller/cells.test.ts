import { describe, expect, it } from "vitest";
import { prescalersOf, widthOf } from "./cells";

describe("a timer's numbers", () => {
  it("are read while they are whole and within what a timer can be", () => {
    expect(["16", " 8 ", "4", "32"].map(widthOf)).toEqual([16, 8, 4, 32]);
    expect(["", "3", "33", "16.0", "1e1", "-8", "x"].map(widthOf)).toEqual(Array(7).fill(null));
    expect(prescalersOf("1 8, 64,256  1024 ")).toEqual([1, 8, 64, 256, 1024]);
    expect(
      ["", "0", "1 1", "1 x", "1.5", "65537", Array.from({ length: 21 }, (_, i) => i + 1).join(" ")].map(prescalersOf),
    ).toEqual(Array(7).fill(null));
  });
});

import { describe, expect, it } from "vitest";
import { applyChanges } from "./changes";

const build = {
  drives: [
    { id: "d1", load: { gear_ratio: { text: "131", origin: "measured", meter: "m1", doubt: 2, basis: { a: "1" } } } },
    { id: "d2", load: { gear_ratio: { text: "19", origin: "chosen" } } },
  ],
  school: "stall",
};

describe("changes from the service", () => {
  it("take their text and origin, and forget what was known of the old text", () => {
    const made = applyChanges(build, [{ path: "drives.d1.load.gear_ratio", text: "150", origin: "chosen" }]);
    expect(made.drives[0]?.load.gear_ratio).toEqual({
      text: "150",
      origin: "chosen",
      value: null,
      doubt: null,
      meter: "",
      reading: null,
      basis: null,
      note: "",
    });
    expect(made.drives[1]).toBe(build.drives[1]);
  });

  it("without an origin put a choice in its place", () => {
    expect(applyChanges(build, [{ path: "school", text: "limited", origin: null }]).school).toBe("limited");
  });

  it("stand below a prefix, keep their note, and leave the build as it was", () => {
    const before = structuredClone(build);
    const made = applyChanges(
      build,
      [{ path: "gear_ratio", text: "5", origin: "measured", note: "n" }],
      "drives.d2.load.",
    );
    expect(made.drives[1]?.load.gear_ratio).toMatchObject({ text: "5", note: "n" });
    expect(build).toEqual(before);
  });
});

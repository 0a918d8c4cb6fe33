import { describe, expect, it } from "vitest";
import { changeAt, getAt } from "./paths";

const build = {
  supply: {
    sources: [
      { id: "s1", full_v: { text: "14 V" } },
      { id: "s2", full_v: { text: "5 V" } },
    ],
  },
};

describe("paths by name and by permanent id", () => {
  it("lead to what they name, or to nothing", () => {
    expect(getAt(build, "supply.sources.s2.full_v.text")).toBe("5 V");
    expect(getAt(build, "supply.sources.s9.full_v")).toBeUndefined();
    expect(getAt(build, "")).toBe(build);
  });

  it("change a copy and share what is beside", () => {
    const made = changeAt(build, "supply.sources.s1.full_v", (old) => ({ ...(old as object), text: "12 V" }));
    expect(getAt(made, "supply.sources.s1.full_v.text")).toBe("12 V");
    expect(getAt(build, "supply.sources.s1.full_v.text")).toBe("14 V");
    expect(made.supply.sources[1]).toBe(build.supply.sources[1]);
  });
});

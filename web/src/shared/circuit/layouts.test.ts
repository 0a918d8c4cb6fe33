import { describe, expect, it } from "vitest";
import { LAYOUTS, diodeOf, wayOf } from "./layouts";

describe("the diode beside the switches' own", () => {
  it("is drawn where it is, or not at all", () => {
    const relays = LAYOUTS["relay pair"]!;
    expect(diodeOf(relays, "none")).toBeUndefined();
    expect(diodeOf(relays, "rails")?.at).not.toEqual(diodeOf(relays, "motor")?.at);
    expect(diodeOf(LAYOUTS["low side"]!, "rails")).toBe(diodeOf(LAYOUTS["low side"]!, "motor"));
    expect(diodeOf(LAYOUTS["full bridge"]!, "rails")).toBeUndefined();
    expect(diodeOf(LAYOUTS["full bridge"]!, "motor")).toBeDefined();
  });

  it("begins and ends on the motor's own ends when it stands across it", () => {
    for (const layout of Object.values(LAYOUTS)) {
      const diode = layout.diode?.motor;
      if (!diode) continue;
      const ring = wayOf({ ...layout.ways, diode: diode.way }, ["motor", "diode"]);
      expect(ring[0]).toEqual(ring[ring.length - 1]);
    }
  });
});

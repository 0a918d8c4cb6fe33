import { describe, expect, it } from "vitest";
import { columnsOf, sorted, type Candidate } from "./compare";

const part = (id: string, price: number | null, use: number | null) =>
  ({
    id,
    numbers: { price_eur: price, drop_v: null, top_speed_rad_s: null, junction_c: null },
    checks: [{ code: "driver.heat", title: "Heat", use }],
  }) as unknown as Candidate;

describe("parts compared", () => {
  const parts = [part("a", 3, 0.9), part("b", null, 0.2), part("c", 1, null)];
  const by = (key: string) => columnsOf(parts).find((c) => c.key === key);
  it("has a column for each check that some part has, by its title", () => {
    expect(columnsOf(parts).map((c) => c.label)).toEqual(["Heat", "Price", "Drop", "Speed, supply flat", "Junction"]);
    expect(columnsOf([part("x", 1, null)]).map((c) => c.label)[0]).toBe("Price");
  });
  it("sorts either way, with what is not known at the end", () => {
    const ids = (list: Candidate[]) => list.map((c) => c.id).join("");
    expect(ids(sorted(parts, by("price_eur"), false))).toBe("cab");
    expect(ids(sorted(parts, by("price_eur"), true))).toBe("acb");
    expect(ids(sorted(parts, by("driver.heat"), false))).toBe("bac");
    expect(ids(sorted(parts, undefined, false))).toBe("abc");
  });
});

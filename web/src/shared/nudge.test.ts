import { describe, expect, it } from "vitest";
import { nudge } from "./nudge";

describe("a nudge", () => {
  it.each([
    ["12.5 V", 1, "12.6 V"],
    ["12.5 V", 10, "13.5 V"],
    ["131", -1, "130"],
    ["0.9", 1, "1.0"],
    ["0.0 °C", -1, "-0.1 °C"],
    ["-0.1", 1, "0.0"],
    ["-5", -1, "-6"],
    ["9.99 A", 1, "10.00 A"],
    ["4.7kΩ", 1, "4.8kΩ"],
    ["20 kHz ± 5 %", 1, "21 kHz ± 5 %"],
    ["0,5 A", 1, "0,6 A"],
  ])("of %s by %i is %s", (text, by, wanted) => expect(nudge(text, by)).toBe(wanted));

  it.each(["", "ten", "4,200 rpm", ".5"])("leaves %s, which it cannot be sure of, as it is", (text) =>
    expect(nudge(text, 1)).toBe(text),
  );

  it("up and down again is where it was", () => {
    for (const text of ["0.1 A", "19.2", "1.005 V", "100 rpm", "0.30 Ω"]) expect(nudge(nudge(text, 1), -1)).toBe(text);
  });
});

import { describe, expect, it } from "vitest";
import type { Field } from "@/api/client";
import { foldLine } from "./folds";

const field = (label: string, text: string, more: Partial<Field> = {}): Field =>
  ({ path: label, label, control: "quantity", text, error: "", ...more }) as Field;

describe("the line of a fold", () => {
  it("tells what is held and what is open", () => {
    expect(foldLine([field("Peukert exponent", "1.05"), field("Gives at most", " ")])).toEqual({
      held: "Peukert exponent: 1.05",
      open: "Gives at most",
    });
  });

  it("tells a choice by its label, as far as the label names it", () => {
    const options = [
      { value: "no", label: "Is off, or the pack is taken out" },
      { value: "run", label: "Run and peak: the stall is borne by the peak rating" },
    ] as Field["options"];
    expect(foldLine([field("A charger", "no", { options }), field("Sizing", "run", { options })]).held).toBe(
      "A charger: Is off · Sizing: Run and peak",
    );
  });

  it("counts what would make it longer than what it folds", () => {
    const many = Array.from({ length: 9 }, (_, i) => field(`f${i}`, ""));
    expect(foldLine(many).open).toBe("f0, f1, f2, f3, f4, 4 others");
    expect(foldLine(many.slice(0, 6)).open).toBe("f0, f1, f2, f3, f4, f5");
  });
});

import { expect, test } from "vitest";
import { PARTS, quantile, strokeOf, tableOf, type Moments } from "./strokes";

const MOMENTS: Moments = {
  typed: 1000,
  asked: 1008,
  answered: 1040,
  drawn: 1052,
  frame: 1060,
  laidOut: 1064,
  painted: 1067,
  service: 21,
};

test("the parts of a keystroke are its whole", () => {
  const stroke = strokeOf(MOMENTS);
  expect(stroke).toEqual({ script: 20, service: 21, wire: 11, frame: 8, layout: 4, paint: 3, whole: 67 });
  expect(PARTS.reduce((sum, part) => sum + stroke[part], 0)).toBe(stroke.whole);
});

test("a quantile is a value that was measured, and that so many reach", () => {
  const twenty = Array.from({ length: 20 }, (_, i) => 20 - i);
  expect(quantile(twenty, 0.5)).toBe(10);
  expect(quantile(twenty, 0.95)).toBe(19);
  expect(quantile([7], 0.95)).toBe(7);
  expect(quantile([], 0.5)).toBe(0);
});

test("the table tells each part by itself: the slowest wire need not belong to the slowest key", () => {
  const slow = strokeOf({ ...MOMENTS, typed: 900 });
  const rows = tableOf([strokeOf(MOMENTS), slow, strokeOf(MOMENTS)]);
  expect(rows.map((r) => r.part)).toEqual([...PARTS, "whole"]);
  expect(rows.find((r) => r.part === "whole")).toEqual({ part: "whole", median: 67, late: 167 });
  expect(rows.find((r) => r.part === "wire")).toEqual({ part: "wire", median: 11, late: 11 });
});

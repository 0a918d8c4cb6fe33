import { expect, test } from "vitest";
import { placed, ticksOf } from "./tradeOff";

test("cheaper lies further left, cooler further down, and all within the box", () => {
  const { spots } = placed(
    [
      { price_eur: 9.5, heat_w: 1.1, use: 0.97 },
      { price_eur: 13, heat_w: 0.4, use: 0.8 },
      { price_eur: 11, heat_w: 2.6, use: 0.7 },
    ],
    400,
    200,
  );
  const [cheap, cool, warm] = spots;
  expect(cheap!.x).toBeLessThan(warm!.x);
  expect(warm!.x).toBeLessThan(cool!.x);
  expect(cool!.y).toBeGreaterThan(cheap!.y);
  expect(cheap!.y).toBeGreaterThan(warm!.y);
  for (const s of spots) {
    expect(s.x).toBeGreaterThanOrEqual(0);
    expect(s.x).toBeLessThanOrEqual(400);
    expect(s.y).toBeGreaterThanOrEqual(0);
    expect(s.y).toBeLessThanOrEqual(200);
  }
});

test("a price that nobody knows has no place, and one design alone has one", () => {
  const { spots } = placed(
    [
      { price_eur: null, heat_w: 1, use: 0.5 },
      { price_eur: 4, heat_w: 1, use: 0.5 },
    ],
    400,
    200,
  );
  expect(spots.map((s) => s.index)).toEqual([1]);
  expect(Number.isFinite(spots[0]!.x) && Number.isFinite(spots[0]!.y)).toBe(true);
  expect(placed([], 400, 200).spots).toEqual([]);
});

test("ticks are round and inside", () => {
  expect(ticksOf(8.98, 13.5)).toEqual([9, 10, 11, 12, 13]);
  expect(ticksOf(0.2, 2.85)).toEqual([0.5, 1, 1.5, 2, 2.5]);
  expect(ticksOf(3, 3)).toEqual([3]);
});

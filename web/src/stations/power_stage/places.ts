import type { PictureOf } from "@/api/client";

export type MapView = NonNullable<PictureOf<"stage">["map"]>;
/** A point of the map: a row of frequency and a column of current. */
export type Place = { row: number; column: number };

export const short = (v: number) => Number(v.toPrecision(2)).toString();
export const hertz = (v: number) => (v >= 1000 ? `${short(v / 1000)} kHz` : `${short(v)} Hz`);

/** A round step that cuts a span into nine bands at most. */
export function bandOf(span: number): number {
  const ten = 10 ** Math.floor(Math.log10(span / 9 || 1));
  return [1, 2, 2.5, 5, 10].map((m) => m * ten).find((s) => span / s <= 9) ?? 10 * ten;
}

/** Where each level of a grid is first crossed: on the lowest row that crosses it inside the map, clear of the labels
 * of the levels before it. */
export function isolines(grid: (number | null)[][], levels: number[]): { level: number; at: Place }[] {
  const placed: Place[] = [];
  const clear = (at: Place, wide: number) =>
    placed.every((p) => Math.abs(p.row - at.row) > 5 || Math.abs(p.column - at.column) > wide * 0.11);
  return levels.flatMap((level) => {
    for (let row = 3; row < grid.length - 3; row++) {
      const [wide, column] = [grid[row]!.length, grid[row]!.findIndex((v) => v !== null && v >= level)];
      if (column <= 4 || column >= wide - 6 || !clear({ row, column }, wide)) continue;
      placed.push({ row, column });
      return [{ level, at: { row, column } }];
    }
    return [];
  });
}

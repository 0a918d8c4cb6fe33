/** A stretch of a row of samples, by its first and its last place. */
export type Span = [number, number];

/** The fewest steps that are still looked at: fewer tell nothing of a line. */
export const LEAST = 6;

const kept = (from: number, to: number, last: number): Span => {
  const wide = Math.min(Math.max(to - from, LEAST), last);
  const start = Math.min(Math.max(Math.round(from), 0), last - Math.round(wide));
  return [start, start + Math.round(wide)];
};

/** The same stretch so many times as wide, with ``at`` where it stands in the picture; never beyond the row. */
export function wider([from, to]: Span, at: number, times: number, last: number): Span {
  return kept(at - (at - from) * times, at + (to - at) * times, last);
}

/** The stretch between two places in either order. */
export function between(a: number, b: number, last: number): Span {
  return kept(Math.min(a, b), Math.max(a, b), last);
}

/** The place whose x is nearest, of rising x. */
export function nearest(x: readonly number[], to: number): number {
  let [low, high] = [0, x.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (x[middle]! <= to) low = middle;
    else high = middle;
  }
  return to - x[low]! <= x[high]! - to ? low : high;
}

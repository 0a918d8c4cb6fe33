/* Moments of a keystroke that a tracer may listen to. Without one a moment costs a comparison. */

export type Moment = "asked" | "answered" | "drawn";

let listener: ((moment: Moment) => void) | null = null;

/** Who is told of each moment as it comes; null for nobody. */
export function listen(to: ((moment: Moment) => void) | null): void {
  listener = to;
}

export function note(moment: Moment): void {
  listener?.(moment);
}

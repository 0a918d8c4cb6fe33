/* The arithmetic of a trace: where the time of a keystroke went, from its moments. All in ms of the page's own clock. */

export const PARTS = ["script", "service", "wire", "frame", "layout", "paint"] as const;
export type Part = (typeof PARTS)[number];

export type Moments = {
  /** The key went down. */
  typed: number;
  /** The question left the page, and its answer was there, read. */
  asked: number;
  answered: number;
  /** What the answer says stood in the document. */
  drawn: number;
  /** The next frame began; its layout was done; it was handed over. */
  frame: number;
  laidOut: number;
  painted: number;
  /** How long the service worked, told by itself. */
  service: number;
};

export type Stroke = Record<Part, number> & { whole: number };

/** Each part of a keystroke; together they are the whole. What the service did not take of the waiting is the wire's
 * (and of the first picture, drawn meanwhile). */
export function strokeOf(m: Moments): Stroke {
  return {
    script: m.asked - m.typed + (m.drawn - m.answered),
    service: m.service,
    wire: m.answered - m.asked - m.service,
    frame: m.frame - m.drawn,
    layout: m.laidOut - m.frame,
    paint: m.painted - m.laidOut,
    whole: m.painted - m.typed,
  };
}

/** The value below which a share of all lies: the smallest that at least so many reach. 0 of nothing. */
export function quantile(values: number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.max(Math.ceil(sorted.length * share) - 1, 0)] ?? 0;
}

export type Row = { part: Part | "whole"; median: number; late: number };

/** Median and 95th percentile of each part over some keystrokes. */
export function tableOf(strokes: Stroke[]): Row[] {
  return [...PARTS, "whole" as const].map((part) => {
    const values = strokes.map((s) => s[part]);
    return { part, median: quantile(values, 0.5), late: quantile(values, 0.95) };
  });
}

import type { Drawn, Laid, LaidWire, Point } from "./layout";

type Wire = Drawn["connections"][number];
export type Box = { x: number; y: number; width: number; height: number };
/** What is written beside a wire, and where its middle is. */
export type WireLabel = { id: string; text: string; x: number; y: number };
/** A plug over a wire, near one of its ends. */
export type Plug = { id: string; x: number; y: number; kind: string };

const THINNEST = 2.2;
const THICKEST = 5.4;
/** Points of line for each millimetre of copper: thick wire is seen to be thick. */
const PER_MM = 1.9;
const LETTER = 6.2;
const TALL = 13;
/** From a wire's end to the middle of its plug. */
const PLUG_AT = 11;

/** How thick a wire is drawn. */
export function strokeOf(thickMm: number): number {
  return Math.min(Math.max(1.4 + PER_MM * thickMm, THINNEST), THICKEST);
}

function apart(a: Box, b: Box): boolean {
  return a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y;
}

/** The straight pieces of a wire as boxes with some room round them. */
function pieces(w: LaidWire, room: number): Box[] {
  return w.points.slice(1).map((b, i) => {
    const a = w.points[i] as Point;
    return {
      x: Math.min(a.x, b.x) - room,
      y: Math.min(a.y, b.y) - room,
      width: Math.abs(a.x - b.x) + 2 * room,
      height: Math.abs(a.y - b.y) + 2 * room,
    };
  });
}

/** Gauge and length along the wires that have room for them; a wire without room is told by the table alone. */
export function labelsOf(laid: Laid, wires: readonly Wire[]): WireLabel[] {
  const by = new Map(wires.map((w) => [w.id, w]));
  const inTheWay: Box[] = [...laid.parts, ...laid.wires.flatMap((w) => pieces(w, 3))];
  const found: WireLabel[] = [];
  for (const w of laid.wires) {
    const wire = by.get(w.id);
    if (!wire?.length || !wire.gauge) continue;
    const text = `${wire.length}, ${wire.gauge}`;
    const width = text.length * LETTER;
    const level = w.points.slice(1).flatMap((b, i) => {
      const a = w.points[i] as Point;
      return a.y === b.y && Math.abs(a.x - b.x) >= width + 2 * PLUG_AT ? [{ x: (a.x + b.x) / 2, y: a.y }] : [];
    });
    for (const { x, y } of level) {
      const box = { x: x - width / 2, y: y - 3 - TALL, width, height: TALL };
      if (!inTheWay.every((other) => apart(box, other))) continue;
      found.push({ id: w.id, text, x, y: y - 6 });
      inTheWay.push(box);
      break;
    }
  }
  return found;
}

function along(a: Point, b: Point, by: number): Point | null {
  const far = Math.hypot(b.x - a.x, b.y - a.y);
  return far < by * 1.5 ? null : { x: a.x + ((b.x - a.x) * by) / far, y: a.y + ((b.y - a.y) * by) / far };
}

/** Plugs and breadboard holes, at both ends of each wire that has them. */
export function plugsOf(laid: Laid, wires: readonly Wire[]): Plug[] {
  const by = new Map(wires.map((w) => [w.id, w]));
  return laid.wires.flatMap((w) => {
    const wire = by.get(w.id);
    if (!wire || (wire.ends !== "plug" && wire.ends !== "breadboard")) return [];
    const ends = [w.points.slice(0, 2), w.points.slice(-2).reverse()];
    return ends.flatMap(([a, b], k) => {
      const at = a && b && along(a, b, PLUG_AT);
      return at ? [{ id: `${w.id} ${k}`, ...at, kind: wire.turns ? "plug-turns" : wire.ends }] : [];
    });
  });
}

/** The middle of the longest straight piece of a wire that is twisted or shielded. */
export function laidMarks(
  laid: Laid,
  wires: readonly Wire[],
): { id: string; x: number; y: number; level: boolean; how: string }[] {
  const by = new Map(wires.map((w) => [w.id, w]));
  return laid.wires.flatMap((w) => {
    const how = by.get(w.id)?.laid;
    if (!how) return [];
    const runs = w.points.slice(1).map((b, i) => ({ a: w.points[i] as Point, b }));
    const far = ({ a, b }: { a: Point; b: Point }) => Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    const best = runs.reduce((one, other) => (far(other) > far(one) ? other : one));
    return [
      { id: w.id, x: (best.a.x + best.b.x) / 2, y: (best.a.y + best.b.y) / 2, level: best.a.y === best.b.y, how },
    ];
  });
}

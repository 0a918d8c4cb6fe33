import type { PictureOf } from "@/api/client";

type Panel = PictureOf<"signals">["panel"];
export type Spot = { x: number; y: number };

const COLUMN = 120;
const LEFT = 56;
export const WIDTH = 486;
const ROWS = { forward: 34, calm: 134, back: 234, stop: 318 };

/** Where each mode stands: calm ones in the middle, each direction on its own side, what is stopped at the bottom. */
export function spots(panel: Panel): Record<string, Spot> {
  const found: Record<string, Spot> = {};
  const column = (name: string) => {
    if (name.startsWith("starting")) return 1;
    if (name.startsWith("slowing")) return 3;
    return 2;
  };
  for (const mode of panel.modes) {
    if (mode.name === "waiting") found[mode.name] = { x: LEFT, y: ROWS.calm };
    else if (mode.name === "idle") found[mode.name] = { x: LEFT + COLUMN, y: ROWS.calm };
    else if (mode.name === "resting") found[mode.name] = { x: LEFT + 3 * COLUMN, y: ROWS.calm };
    else if (mode.name === "stopped") found[mode.name] = { x: LEFT + 2 * COLUMN, y: ROWS.stop };
    else if (mode.name === "failed") found[mode.name] = { x: LEFT + COLUMN, y: ROWS.stop };
    else if (mode.name === "homing") found[mode.name] = { x: LEFT + COLUMN, y: ROWS.back };
    else {
      const way = mode.name.endsWith("forward") ? "forward" : "back";
      const beside = mode.name.startsWith("moving") ? (way === "forward" ? 48 : -48) : 0;
      found[mode.name] = { x: LEFT + column(mode.name) * COLUMN, y: ROWS[way] + beside };
    }
  }
  return found;
}

/** Ways between modes without those that lead from everywhere to a stop, one for each pair. */
export function ways(panel: Panel) {
  const seen = new Map<string, { start: string; end: string; says: string[] }>();
  for (const edge of panel.edges) {
    if (edge.end === "stopped" || edge.end === "failed") continue;
    const key = `${edge.start}>${edge.end}`;
    const known = seen.get(key);
    if (known) known.says.push(edge.says);
    else seen.set(key, { start: edge.start, end: edge.end, says: [edge.says] });
  }
  return [...seen.values()];
}

/** From a stop back to resting: round the outside, so that no box lies in the way. */
export function around(a: Spot, b: Spot, w: number, h: number): string {
  const side = WIDTH - 5;
  const under = a.y + h / 2 + (a.x < LEFT + 2 * COLUMN ? 12 : 0);
  const start = a.x < LEFT + 2 * COLUMN ? `M${a.x} ${a.y + h / 2} V${under}` : `M${a.x + w / 2} ${a.y} H${side}`;
  const along = a.x < LEFT + 2 * COLUMN ? ` H${side}` : "";
  return `${start}${along} V${b.y} H${b.x + w / 2}`;
}

/** A bent line from one mode to another, ending at the boxes' edges. */
export function bent(a: Spot, b: Spot, w: number, h: number): string {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const out = (from: Spot, tx: number, ty: number): Spot => {
    const s = Math.min(Math.abs(w / 2 / (tx || 1e-6)), Math.abs(h / 2 / (ty || 1e-6)), 1);
    return { x: from.x + tx * s, y: from.y + ty * s };
  };
  const length = Math.hypot(dx, dy) || 1;
  const bow = 16 + length * 0.06;
  const middle = { x: (a.x + b.x) / 2 - (dy / length) * bow, y: (a.y + b.y) / 2 + (dx / length) * bow };
  const start = out(a, middle.x - a.x, middle.y - a.y);
  const end = out(b, middle.x - b.x, middle.y - b.y);
  return `M${start.x.toFixed(1)} ${start.y.toFixed(1)} Q${middle.x.toFixed(1)} ${middle.y.toFixed(1)} ${end.x.toFixed(1)} ${end.y.toFixed(1)}`;
}

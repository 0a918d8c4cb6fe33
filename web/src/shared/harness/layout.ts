import type { ElkExtendedEdge, ElkNode } from "elkjs/lib/elk-api";
import { useEffect, useState } from "react";
import type { PictureOf } from "@/api/client";
import { cornersOf, layGraph, pathOf } from "@/shared/elk";

export type Drawn = PictureOf<"wiring">["harness"];
export type Part = Drawn["parts"][number];
type Side = "WEST" | "EAST";
export type Point = { x: number; y: number };
export type LaidPin = { name: string; net: string; side: Side; y: number };
export type LaidPart = Part & { x: number; y: number; width: number; height: number; at: LaidPin[] };
export type LaidWire = { id: string; d: string; net: string; colour: string; stripe: string; points: Point[] };
export type Laid = { width: number; height: number; parts: LaidPart[]; wires: LaidWire[] };

export const ROW = 19;
export const HEAD = 26;
const CHARACTER = 7.4;
const TITLE = 30;

/** A title that fits on its block. */
export const shortened = (title: string) => (title.length > TITLE ? `${title.slice(0, TITLE - 1)}…` : title);

/** The colour of a wire's insulation, and of its stripe if it has one. */
export function coloursOf(colour: string): { base: string; stripe: string } {
  const [base = "grey", stripe = ""] = colour.split(", ");
  return { base, stripe: stripe.replace(" stripe", "") };
}

/** On which side of its part each pin stands: a board's two rows left and right, else by where its wires lead. */
function sidesOf(p: Drawn): Map<string, Side> {
  const towards = new Map<string, number>();
  const add = (part: string, pin: string, by: number) =>
    towards.set(`${part}|${pin}`, (towards.get(`${part}|${pin}`) ?? 0) + by);
  for (const w of p.connections) {
    add(w.start_part, w.start_pin, 1);
    add(w.end_part, w.end_pin, -1);
  }
  const found = new Map<string, Side>();
  for (const part of p.parts) {
    const rows = [...new Set(part.pins.map((pin) => pin.row).filter(Boolean))].sort();
    for (const pin of part.pins) {
      const key = `${part.id}|${pin.name}`;
      const byRow = rows.length === 2 && pin.row ? (pin.row === rows[0] ? "WEST" : "EAST") : null;
      found.set(key, byRow ?? ((towards.get(key) ?? 0) > 0 ? "EAST" : "WEST"));
    }
  }
  return found;
}

/** Places parts and wires so that wires cross little; pins keep the order of their part. */
export async function layOut(p: Drawn): Promise<Laid> {
  const sides = sidesOf(p);
  const drawn = p.parts.filter((part) => part.pins.length > 0);
  const at = new Map<string, LaidPin[]>();
  const children: ElkNode[] = drawn.map((part) => {
    const of = (side: Side) => part.pins.filter((pin) => sides.get(`${part.id}|${pin.name}`) === side);
    const [west, east] = [of("WEST"), of("EAST")];
    const widest = (pins: { name: string }[]) => Math.max(0, ...pins.map((pin) => pin.name.length * CHARACTER));
    const width = Math.max(
      widest(west) + widest(east) + 34,
      shortened(part.title).length * CHARACTER + 18,
      ...part.altered.map((words) => words.length * CHARACTER + 18),
      74,
    );
    const pins = [west, east].flatMap((row, k) =>
      row.map((pin, i) => ({
        name: pin.name,
        net: pin.net,
        side: k ? ("EAST" as const) : ("WEST" as const),
        y: HEAD + i * ROW + ROW / 2,
      })),
    );
    at.set(part.id, pins);
    return {
      id: part.id,
      width,
      height: HEAD + (Math.max(west.length, east.length) + part.altered.length) * ROW + 6,
      layoutOptions: { "elk.portConstraints": "FIXED_POS" },
      ports: pins.map((pin) => ({
        id: `${part.id}|${pin.name}`,
        x: pin.side === "WEST" ? 0 : width,
        y: pin.y,
        width: 0,
        height: 0,
        layoutOptions: { "elk.port.side": pin.side },
      })),
    };
  });
  const fitted = p.connections.filter((w) => w.fitted);
  const edges: ElkExtendedEdge[] = fitted.map((w) => ({
    id: w.id,
    sources: [`${w.start_part}|${w.start_pin}`],
    targets: [`${w.end_part}|${w.end_pin}`],
  }));
  const begun = performance.now();
  const done = await layGraph({
    id: "root",
    children,
    edges,
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "RIGHT",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.spacing.edgeEdge": "9",
      "elk.spacing.edgeNode": "14",
      "elk.layered.spacing.edgeEdgeBetweenLayers": "9",
      "elk.layered.spacing.edgeNodeBetweenLayers": "14",
      "elk.layered.spacing.nodeNodeBetweenLayers": "34",
      // The order in which parts are told decides ties, so that a small change moves little.
      "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
      "elk.spacing.nodeNode": "22",
      "elk.padding": "[top=6,left=6,bottom=6,right=6]",
    },
  });
  performance.measure("harness laid out", { start: begun, end: performance.now() });
  const wires = new Map(fitted.map((w) => [w.id, w]));
  return {
    width: done.width ?? 0,
    height: done.height ?? 0,
    parts: (done.children ?? []).flatMap((n) => {
      const part = drawn.find((x) => x.id === n.id);
      return part
        ? [
            {
              ...part,
              x: n.x ?? 0,
              y: n.y ?? 0,
              width: n.width ?? 0,
              height: n.height ?? 0,
              at: at.get(n.id) ?? [],
            },
          ]
        : [];
    }),
    wires: (done.edges ?? []).map((e) => {
      const wire = wires.get(e.id);
      const { base, stripe } = coloursOf(wire?.colour ?? "grey");
      const points = cornersOf(e);
      return { id: e.id, d: pathOf(points), net: wire?.net ?? "", colour: base, stripe, points };
    }),
  };
}

/** A harness laid out; it is laid out anew where its shape changes: gauge or length do not move a block. */
export function useLaid(p: Drawn): Laid | null {
  const [laid, setLaid] = useState<Laid | null>(null);
  const shape = JSON.stringify([p.parts, p.connections.map((c) => [c.id, c.fitted, c.colour])]);
  useEffect(() => {
    let late = false;
    void layOut(p).then((done) => {
      if (!late) setLaid(done);
    });
    return () => {
      late = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape]);
  return laid;
}

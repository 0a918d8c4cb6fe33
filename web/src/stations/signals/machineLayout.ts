import type { ElkNode } from "elkjs/lib/elk-api";
import type { PictureOf } from "@/api/client";
import { cornersOf, layGraph, pathOf } from "@/shared/elk";

type Panel = Pick<PictureOf<"signals">["panel"], "modes" | "edges">;
type Way = { start: string; end: string; says: string[] };
type Box = { name: string; x: number; y: number };
export type LaidMachine = { width: number; height: number; boxes: Box[]; ways: (Way & { d: string })[] };

export const [BOX_WIDTH, BOX_HEIGHT] = [124, 32];

export const isStop = (panel: Panel, name: string) => panel.modes.some((m) => m.name === name && m.from_everywhere);

/** Ways between modes without those that lead from everywhere to a stop, one for each pair. */
export function ways(panel: Panel): Way[] {
  const seen = new Map<string, Way>();
  for (const edge of panel.edges) {
    if (isStop(panel, edge.end)) continue;
    const key = `${edge.start}>${edge.end}`;
    const known = seen.get(key);
    if (known) known.says.push(edge.says);
    else seen.set(key, { start: edge.start, end: edge.end, says: [edge.says] });
  }
  return [...seen.values()];
}

/** Where each mode stands and how the ways lead, from the first mode down. */
export async function layMachine(panel: Panel): Promise<LaidMachine> {
  const lines = ways(panel);
  const done: ElkNode = await layGraph({
    id: "machine",
    children: panel.modes.map((m) => ({ id: m.name, width: BOX_WIDTH, height: BOX_HEIGHT })),
    edges: lines.map((w) => ({ id: `${w.start}>${w.end}`, sources: [w.start], targets: [w.end] })),
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "DOWN",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
      "elk.layered.spacing.nodeNodeBetweenLayers": "26",
      "elk.layered.spacing.edgeNodeBetweenLayers": "10",
      "elk.spacing.nodeNode": "18",
      "elk.spacing.edgeNode": "10",
      "elk.padding": "[top=4,left=4,bottom=4,right=4]",
    },
  });
  const laid = new Map(done.edges?.map((e) => [e.id, pathOf(cornersOf(e))]));
  return {
    width: done.width ?? 0,
    height: done.height ?? 0,
    boxes: (done.children ?? []).map((n) => ({ name: n.id, x: n.x ?? 0, y: n.y ?? 0 })),
    ways: lines.map((w) => ({ ...w, d: laid.get(`${w.start}>${w.end}`) ?? "" })),
  };
}

import type { ElkNode } from "elkjs/lib/elk-api";
import type { PictureOf } from "@/api/client";
import { cornersOf, layGraph, pathOf } from "@/shared/elk";

type Panel = Pick<PictureOf<"signals">["panel"], "modes" | "edges">;
type Way = { start: string; end: string; says: string[] };
type Box = { name: string; x: number; y: number };
/** The conditions of a way, line by line, and where the first line begins. */
export type Words = { x: number; y: number; lines: string[] };
export type LaidMachine = { width: number; height: number; boxes: Box[]; ways: (Way & { d: string; words: Words })[] };

export const [BOX_WIDTH, BOX_HEIGHT] = [112, 30];

export const [LINE_HEIGHT, LETTER] = [13, 6];
const LINE_LETTERS = 15;

/** Conditions in lines short enough to stand beside an arrow; each but the first begins with "or". */
export function linesOf(says: readonly string[]): string[] {
  return says.flatMap((condition, i) => {
    const lines: string[] = [];
    for (const word of `${i ? "or " : ""}${condition}`.split(" ")) {
      const last = lines.at(-1);
      if (last !== undefined && last.length + 1 + word.length <= LINE_LETTERS)
        lines[lines.length - 1] = `${last} ${word}`;
      else lines.push(word);
    }
    return lines;
  });
}

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
    edges: lines.map((w) => {
      const told = linesOf(w.says);
      const wide = Math.max(...told.map((line) => line.length)) * LETTER + 8;
      const label = {
        id: `${w.start}>${w.end}:says`,
        text: told.join(" "),
        width: wide,
        height: told.length * LINE_HEIGHT,
      };
      return { id: `${w.start}>${w.end}`, sources: [w.start], targets: [w.end], labels: [label] };
    }),
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "DOWN",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
      "elk.layered.spacing.nodeNodeBetweenLayers": "14",
      "elk.edgeLabels.placement": "CENTER",
      "elk.layered.edgeLabels.sideSelection": "ALWAYS_DOWN",
      "elk.spacing.edgeLabel": "2",
      "elk.spacing.edgeEdge": "6",
      "elk.layered.spacing.edgeEdgeBetweenLayers": "6",
      "elk.layered.spacing.edgeNodeBetweenLayers": "10",
      "elk.spacing.nodeNode": "8",
      "elk.spacing.edgeNode": "6",
      "elk.padding": "[top=4,left=4,bottom=4,right=4]",
    },
  });
  const laid = new Map(done.edges?.map((e) => [e.id, e]));
  return {
    width: done.width ?? 0,
    height: done.height ?? 0,
    boxes: (done.children ?? []).map((n) => ({ name: n.id, x: n.x ?? 0, y: n.y ?? 0 })),
    ways: lines.map((w) => {
      const edge = laid.get(`${w.start}>${w.end}`);
      const label = edge?.labels?.[0];
      const words = { x: label?.x ?? 0, y: label?.y ?? 0, lines: linesOf(w.says) };
      return { ...w, d: edge ? pathOf(cornersOf(edge)) : "", words };
    }),
  };
}

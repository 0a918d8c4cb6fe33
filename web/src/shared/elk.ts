import type { ElkNode, ElkPoint } from "elkjs/lib/elk-api";

/** Lays a graph out: loaded when the first drawing asks for it, since it weighs more than the rest of the app. */
export async function layGraph(graph: ElkNode): Promise<ElkNode> {
  const { default: Elk } = await import("elkjs/lib/elk.bundled.js");
  return new Elk().layout(graph);
}

/** The corners of a laid edge, start to end; none where it was not laid. */
export function cornersOf(edge: NonNullable<ElkNode["edges"]>[number]): ElkPoint[] {
  const s = edge.sections?.[0];
  return s ? [s.startPoint, ...(s.bendPoints ?? []), s.endPoint] : [];
}

/** Corners as the `d` of a path. */
export function pathOf(corners: readonly ElkPoint[]): string {
  return corners.map((q, i) => `${i ? "L" : "M"}${q.x.toFixed(1)} ${q.y.toFixed(1)}`).join("");
}

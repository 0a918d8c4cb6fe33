import type { ElkExtendedEdge, ElkNode } from "elkjs/lib/elk-api";
import type { PictureOf } from "@/api/client";
import { cornersOf, layGraph, pathOf } from "@/shared/elk";
import { saveFile } from "@/shared/files";

type Wiring = PictureOf<"wiring">;
type Pin = { name: string; side: "WEST" | "EAST"; y: number };
type Block = {
  key: string;
  title: string;
  x: number;
  y: number;
  width: number;
  height: number;
  pins: Pin[];
  altered: string[];
};
type Wire = { id: string; d: string; colour: string };
export type Laid = { width: number; height: number; blocks: Block[]; wires: Wire[] };

const PIN = 19;
const HEAD = 26;
const CHARACTER = 7.4;

/** Places blocks and wires so that wires cross little; each pin keeps its row. */
export async function layOut(p: Wiring): Promise<Laid> {
  const sides = new Map<string, { west: string[]; east: string[] }>();
  const side = (block: string) => {
    const found = sides.get(block) ?? { west: [], east: [] };
    sides.set(block, found);
    return found;
  };
  for (const c of p.connections) {
    const from = side(c.start_block).east;
    const to = side(c.end_block).west;
    if (!from.includes(c.start_pin)) from.push(c.start_pin);
    if (!to.includes(c.end_pin)) to.push(c.end_pin);
  }
  const children: ElkNode[] = [...sides].map(([key, { west, east }]) => {
    const title = p.blocks[key] ?? key;
    const altered = p.altered[key] ?? [];
    const widest = (names: string[]) => Math.max(0, ...names.map((n) => n.length * CHARACTER));
    const width = Math.max(
      widest(west) + widest(east) + 34,
      Math.min(title.length, 26) * CHARACTER + 18,
      widest(altered) + 18,
      74,
    );
    const rows = Math.max(west.length, east.length);
    return {
      id: key,
      width,
      height: HEAD + (rows + altered.length) * PIN + 6,
      layoutOptions: { "elk.portConstraints": "FIXED_POS" },
      ports: [
        ...west.map((n, i) => ({ id: `${key}|W|${n}`, x: 0, y: HEAD + i * PIN + PIN / 2, width: 0, height: 0 })),
        ...east.map((n, i) => ({ id: `${key}|E|${n}`, x: width, y: HEAD + i * PIN + PIN / 2, width: 0, height: 0 })),
      ],
    };
  });
  const edges: ElkExtendedEdge[] = p.connections.map((c) => ({
    id: c.id,
    sources: [`${c.start_block}|E|${c.start_pin}`],
    targets: [`${c.end_block}|W|${c.end_pin}`],
  }));
  const done: ElkNode = await layGraph({
    id: "root",
    children,
    edges,
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "RIGHT",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.spacing.edgeEdge": "9",
      "elk.layered.spacing.edgeEdgeBetweenLayers": "9",
      "elk.layered.spacing.nodeNodeBetweenLayers": "34",
      "elk.spacing.nodeNode": "22",
      "elk.padding": "[top=6,left=6,bottom=6,right=6]",
    },
  });
  return {
    width: done.width ?? 0,
    height: done.height ?? 0,
    blocks: (done.children ?? []).map((n) => ({
      key: n.id,
      title: p.blocks[n.id] ?? n.id,
      x: n.x ?? 0,
      y: n.y ?? 0,
      width: n.width ?? 0,
      height: n.height ?? 0,
      altered: p.altered[n.id] ?? [],
      pins: (n.ports ?? []).map((port) => {
        const [, at = "W", name = ""] = port.id.split("|");
        return { name, side: at === "W" ? "WEST" : "EAST", y: port.y ?? 0 };
      }),
    })),
    wires: (done.edges ?? []).map((e) => {
      const wire = p.connections.find((c) => c.id === e.id);
      return {
        id: e.id,
        d: pathOf(cornersOf(e)),
        colour: wire?.colour ?? "grey",
      };
    }),
  };
}

/** The drawn harness; it can be kept as an SVG file. */
export function Harness({ laid, p }: { laid: Laid; p: Wiring }) {
  const open = new Set(p.connections.filter((c) => !c.made).map((c) => c.id));
  const keep = () => {
    const drawn = document.getElementById("harness");
    if (!drawn) return;
    const copy = drawn.cloneNode(true) as SVGElement;
    copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    const originals = drawn.querySelectorAll("*");
    copy.querySelectorAll("*").forEach((el, i) => {
      const style = getComputedStyle(originals[i] as Element);
      for (const name of [
        "fill",
        "stroke",
        "stroke-width",
        "stroke-dasharray",
        "font-family",
        "font-size",
        "font-weight",
      ])
        (el as SVGElement).style.setProperty(name, style.getPropertyValue(name));
    });
    saveFile("harness.svg", copy.outerHTML, "image/svg+xml");
  };
  return (
    <div className="harness">
      <div className="scroll">
        <svg
          id="harness"
          viewBox={`0 0 ${laid.width} ${laid.height}`}
          style={{ minWidth: Math.min(laid.width, 700) }}
          className="drawing"
          role="img"
          aria-label={`Harness of ${laid.blocks.length} blocks and ${laid.wires.length} wires; the table below says the same`}
        >
          {laid.wires.map((w) => (
            <path key={`h${w.id}`} d={w.d} className="wire-edge" />
          ))}
          {laid.wires.map((w) => (
            <path key={w.id} d={w.d} className={`wire wire-${w.colour}${open.has(w.id) ? " wire-open" : ""}`} />
          ))}
          {laid.blocks.map((b) => (
            <g key={b.key} transform={`translate(${b.x} ${b.y})`}>
              <rect width={b.width} height={b.height} className="block" />
              <text x={b.width / 2} y={17} textAnchor="middle" className="strong">
                {b.title.length > 26 ? `${b.title.slice(0, 25)}…` : b.title}
              </text>
              {b.pins.map((pin) => (
                <g key={pin.side + pin.name}>
                  <circle cx={pin.side === "WEST" ? 0 : b.width} cy={pin.y} r="3" className="pin" />
                  <text
                    x={pin.side === "WEST" ? 8 : b.width - 8}
                    y={pin.y + 4}
                    textAnchor={pin.side === "WEST" ? "start" : "end"}
                  >
                    {pin.name}
                  </text>
                </g>
              ))}
              {b.altered.map((words, i) => (
                <text
                  key={words}
                  x={b.width / 2}
                  y={b.height - 10 - (b.altered.length - 1 - i) * PIN}
                  textAnchor="middle"
                  className="altered"
                >
                  {words}
                </text>
              ))}
            </g>
          ))}
        </svg>
      </div>
      <button type="button" className="link" onClick={keep}>
        Keep the drawing as an SVG file
      </button>
    </div>
  );
}

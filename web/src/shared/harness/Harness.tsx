import Button from "@mui/material/Button";
import { useRef, useState, type PointerEvent } from "react";
import { drawnPng, drawnText } from "@/shared/drawn";
import { saveBlob, saveFile } from "@/shared/files";
import { labelsOf, laidMarks, plugsOf, strokeOf } from "./marks";
import { ROW, shortened, type Drawn, type Laid, type LaidPart } from "./layout";
import "./harness.css";

const STEP = 1.4;
const CLOSEST = 6;
/** Below this scale the names of pins cannot be read: then the drawing is wider than the page and is scrolled. */
const LEGIBLE = 0.68;

/** What part of the drawing is seen: wheel and buttons come closer, dragging moves it. */
function useView(laid: Laid) {
  const [view, setView] = useState({ zoom: 1, x: 0, y: 0 });
  const held = useRef<{ x: number; y: number } | null>(null);
  const [width, height] = [laid.width / view.zoom, laid.height / view.zoom];
  const within = (x: number, y: number, zoom: number) => ({
    zoom,
    x: Math.min(Math.max(x, 0), laid.width - laid.width / zoom),
    y: Math.min(Math.max(y, 0), laid.height - laid.height / zoom),
  });
  const closer = (by: number) =>
    setView((v) => {
      const zoom = Math.min(Math.max(v.zoom * by, 1), CLOSEST);
      const [w, h] = [laid.width / v.zoom, laid.height / v.zoom];
      return within(v.x + (w - laid.width / zoom) / 2, v.y + (h - laid.height / zoom) / 2, zoom);
    });
  const moved = (dx: number, dy: number) => setView((v) => within(v.x + dx, v.y + dy, v.zoom));
  return {
    zoom: view.zoom,
    box: `${view.x} ${view.y} ${width} ${height}`,
    closer,
    whole: () => setView({ zoom: 1, x: 0, y: 0 }),
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      if (view.zoom > 1) held.current = { x: e.clientX, y: e.clientY };
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      if (!held.current) return;
      const scale = width / e.currentTarget.clientWidth;
      moved((held.current.x - e.clientX) * scale, (held.current.y - e.clientY) * scale);
      held.current = { x: e.clientX, y: e.clientY };
    },
    onPointerUp: () => {
      held.current = null;
    },
  };
}

type Hot = { hot: string; onHot: (net: string) => void };
/** Where probes go, red first, then black. */
export type Probe = { part: string; pin: string };

function Block({ part, waiting, hot, onHot }: { part: LaidPart; waiting: ReadonlySet<string> } & Hot) {
  return (
    <g transform={`translate(${part.x} ${part.y})`} className={part.mine ? "" : "others"}>
      <rect width={part.width} height={part.height} className="block" />
      <text x={part.width / 2} y={17} textAnchor="middle" className="strong">
        {shortened(part.title)}
      </text>
      {part.at.map((pin) => (
        <g
          key={pin.side + pin.name}
          className={hot && hot === pin.net ? "pin-hot" : ""}
          onPointerEnter={() => onHot(pin.net)}
          onPointerLeave={() => onHot("")}
        >
          <circle
            cx={pin.side === "WEST" ? 0 : part.width}
            cy={pin.y}
            r="3"
            className={waiting.has(`${part.id}|${pin.name}`) ? "pin pin-waits" : "pin"}
          />
          <text
            x={pin.side === "WEST" ? 8 : part.width - 8}
            y={pin.y + 4}
            textAnchor={pin.side === "WEST" ? "start" : "end"}
          >
            {pin.name}
          </text>
        </g>
      ))}
      {part.altered.map((words, i) => (
        <text
          key={words}
          x={part.width / 2}
          y={part.height - 10 - (part.altered.length - 1 - i) * ROW}
          textAnchor="middle"
          className="altered"
        >
          {words}
        </text>
      ))}
    </g>
  );
}

/** The tips of a meter's leads at their terminals. */
function Probes({ laid, probes }: { laid: Laid; probes: Probe[] }) {
  return probes.map((probe, k) => {
    const part = laid.parts.find((x) => x.id === probe.part);
    const pin = part?.at.find((x) => x.name === probe.pin);
    if (!part) return null;
    const x = part.x + (pin ? (pin.side === "WEST" ? 0 : part.width) : part.width / 2);
    const y = part.y + (pin ? pin.y : 0);
    const away = pin?.side === "EAST" ? 1 : -1;
    return (
      <g key={probe.part + probe.pin} className={k ? "probe probe-black" : "probe probe-red"}>
        <path d={`M${x} ${y} l${away * 9} -14 l${away * 22} -30`} />
        <text x={x + away * 26} y={y - 46} textAnchor={away > 0 ? "start" : "end"}>
          {k ? "black" : "red"}
        </text>
      </g>
    );
  });
}

/** How wires end and lie, and how long and thick they are where there is room for it. */
function Marks({ laid, p }: { laid: Laid; p: Drawn }) {
  return (
    <g className="wire-marks">
      {plugsOf(laid, p.connections).map((x) => (
        <rect
          key={x.id}
          x={x.x - 4}
          y={x.y - 4}
          width={8}
          height={8}
          rx={x.kind === "breadboard" ? 4 : 1}
          className={x.kind}
        />
      ))}
      {laidMarks(laid, p.connections).map((x) => (
        <path
          key={x.id}
          d="M-15 0 q3.75 -7 7.5 0 t7.5 0 t7.5 0 t7.5 0"
          transform={`translate(${x.x} ${x.y})${x.level ? "" : " rotate(90)"}`}
          className={`laid-${x.how}`}
        />
      ))}
      {labelsOf(laid, p.connections).map((x) => (
        <text key={x.id} x={x.x} y={x.y} textAnchor="middle" className="wire-label">
          {x.text}
        </text>
      ))}
    </g>
  );
}

/** What the marks in this drawing mean. */
function legend(p: Drawn): string {
  const has = (test: (c: Drawn["connections"][number]) => boolean) => p.connections.some((c) => c.fitted && test(c));
  const told = [
    has((c) => c.ends === "plug" && !c.turns) && "square: a connector",
    has((c) => c.turns) && "red square: a connector that can be turned round",
    has((c) => c.ends === "breadboard") && "dot on a wire: in a breadboard",
    has((c) => c.laid === "twisted") && "wave: twisted with its ground",
    has((c) => c.laid === "shielded") && "dashed wave: shielded",
  ].filter(Boolean);
  const said = told.join("; ");
  return said && `${said.charAt(0).toUpperCase()}${said.slice(1)}.`;
}

/** The harness of the whole build, the drive in hand in full strength; it can be kept as an SVG or PNG file. */
export function Harness({ laid, p, hot, onHot, probes = [] }: { laid: Laid; p: Drawn; probes?: Probe[] } & Hot) {
  const svg = useRef<SVGSVGElement>(null);
  const view = useView(laid);
  const mine = new Set(p.connections.filter((c) => c.mine).map((c) => c.id));
  const open = p.connections.some((c) => c.fitted && !c.made);
  const waiting = new Set(
    p.connections
      .filter((c) => c.fitted && !c.made)
      .flatMap((c) => [`${c.start_part}|${c.start_pin}`, `${c.end_part}|${c.end_pin}`]),
  );
  const thick = new Map(p.connections.map((c) => [c.id, c.thick_mm]));
  const some = mine.size > 0 && mine.size < laid.wires.length;
  const keep = async (as: "svg" | "png") => {
    if (!svg.current) return;
    const text = drawnText(svg.current, laid);
    if (as === "svg") return saveFile("harness.svg", text, "image/svg+xml");
    const blob = await drawnPng(text, laid);
    if (blob) saveBlob("harness.png", blob);
  };
  const strength = (w: { id: string; net: string }) => {
    if (hot) return hot === w.net ? "wire-hot" : "wire-far";
    return some && !mine.has(w.id) ? "wire-far" : "";
  };
  return (
    <div className="harness">
      {/* What is wider than the page is scrolled, by keys too. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <div className="harness-frame" tabIndex={0} role="region" aria-label="Drawing of the harness">
        <svg
          ref={svg}
          id="harness"
          viewBox={view.box}
          style={{
            aspectRatio: `${laid.width} / ${laid.height}`,
            minWidth: laid.width * LEGIBLE,
            maxWidth: laid.width * 1.1,
          }}
          className={`drawing${view.zoom > 1 ? " can-move" : ""}`}
          role="img"
          aria-label={`Harness of ${laid.parts.length} parts and ${laid.wires.length} wires; the table says the same`}
          onPointerDown={view.onPointerDown}
          onPointerMove={view.onPointerMove}
          onPointerUp={view.onPointerUp}
          onPointerLeave={view.onPointerUp}
        >
          {laid.wires.map((w) => (
            <g key={w.id} className={strength(w)} onPointerEnter={() => onHot(w.net)} onPointerLeave={() => onHot("")}>
              <path d={w.d} className="wire-edge" style={{ strokeWidth: strokeOf(thick.get(w.id) ?? 0) + 1.5 }} />
              <path
                d={w.d}
                className={`wire wire-${w.colour}`}
                style={{ strokeWidth: strokeOf(thick.get(w.id) ?? 0) }}
              />
              {w.stripe && <path d={w.d} className={`wire wire-${w.stripe} wire-stripe`} />}
            </g>
          ))}
          {laid.parts.map((part) => (
            <Block key={part.id} part={part} waiting={waiting} hot={hot} onHot={onHot} />
          ))}
          <Marks laid={laid} p={p} />
          <Probes laid={laid} probes={probes} />
        </svg>
      </div>
      <div className="harness-tools">
        <Button size="small" onClick={() => view.closer(STEP)} aria-label="Closer">
          +
        </Button>
        <Button size="small" onClick={() => view.closer(1 / STEP)} aria-label="Farther">
          −
        </Button>
        <Button size="small" onClick={view.whole} disabled={view.zoom === 1}>
          Whole
        </Button>
        <Button size="small" onClick={() => void keep("svg")}>
          Keep as SVG
        </Button>
        <Button size="small" onClick={() => void keep("png")}>
          Keep as PNG
        </Button>
        <span className="wiring-note">
          {open ? "An open ring: not every wire there is ticked as made. " : ""}
          {some ? "Pale: other drives'. " : ""}
          {legend(p)}
        </span>
      </div>
    </div>
  );
}

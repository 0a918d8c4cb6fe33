import type { Ref } from "react";
import type { components } from "@/../generated/schema";
import "./board.css";

export type Plan = components["schemas"]["BoardView"];
export type Side = "parts" | "wire";
type Part = Plan["parts"][number];

/** Points of the drawing from hole to hole. */
const STEP = 20;

type Props = {
  plan: Plan;
  side: Side;
  hot: string;
  onHot: (joint: string) => void;
  ref: Ref<SVGSVGElement>;
};

/** The board from above, or from below as one sees it when soldering: then columns run the other way. */
export function BoardDrawing({ plan, side, hot, onHot, ref }: Props) {
  const [width, height] = [plan.columns * STEP, plan.rows * STEP];
  const below = side === "wire";
  const x = (column: number) => (below ? plan.columns - 1 - column : column) * STEP + STEP / 2;
  const y = (row: number) => row * STEP + STEP / 2;
  const path = (holes: number[][]) => holes.map(([c = 0, r = 0], i) => `${i ? "L" : "M"}${x(c)} ${y(r)}`).join(" ");
  const strength = (joint: string) => (!hot ? "" : hot === joint ? "joint-hot" : "joint-far");
  return (
    // What is wider than the page is scrolled, by keys too.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <div className="board-frame" tabIndex={0} role="region" aria-label="Drawing of the board">
      <svg
        ref={ref}
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: Math.min(width, 720), minWidth: Math.min(width, 720) }}
        className={`drawing board board-${side}`}
        role="img"
        aria-label={`${plan.title}, ${below ? "from below, mirrored" : "from the parts"}; the tables say the same`}
      >
        <rect width={width} height={height} className="board-base" />
        <defs>
          <pattern id="holes" width={STEP} height={STEP} patternUnits="userSpaceOnUse">
            <circle cx={STEP / 2} cy={STEP / 2} r={below ? 6.5 : 3} className={below ? "pad" : "hole"} />
            {below && <circle cx={STEP / 2} cy={STEP / 2} r={2.6} className="hole" />}
          </pattern>
        </defs>
        <rect width={width} height={height} fill="url(#holes)" />
        {plan.mounting.map(([c = 0, r = 0]) => (
          <circle key={`${c} ${r}`} cx={x(c)} cy={y(r)} r={STEP * 0.62} className="mounting" />
        ))}
        {!below && plan.parts.map((p) => <Body key={p.name} p={p} />)}
        {plan.tracks.map((t, i) => (
          <path
            key={i}
            d={path(t.corners)}
            className={`track ${below ? "" : "track-under"} ${strength(t.joint)}`}
            onPointerEnter={() => onHot(t.joint)}
            onPointerLeave={() => onHot("")}
          />
        ))}
        {plan.links.map((l, i) => (
          <path
            key={i}
            d={path([l.one, l.other])}
            className={`link ${below ? "link-under" : ""} ${strength(l.joint)}`}
            onPointerEnter={() => onHot(l.joint)}
            onPointerLeave={() => onHot("")}
          />
        ))}
        {plan.parts.flatMap((p) =>
          p.pins.map((pin) => (
            <g
              key={`${p.name} ${pin.pin}`}
              className={strength(pin.joint)}
              onPointerEnter={() => onHot(pin.joint)}
              onPointerLeave={() => onHot("")}
            >
              <circle cx={x(pin.column)} cy={y(pin.row)} r={5} className={pin.joint ? "leg" : "leg leg-free"} />
              <title>{`${p.name}, ${pin.pin}, ${pin.hole}: ${pin.joint || "nothing"}`}</title>
            </g>
          )),
        )}
        {!below && plan.parts.map((p) => <Name key={p.name} p={p} />)}
        {plan.parts
          .filter((p) => p.kind === "terminal")
          .flatMap((p) =>
            p.pins.map((pin) => (
              <TerminalName
                key={pin.hole}
                name={pin.pin}
                x={x(pin.column)}
                y={y(pin.row)}
                top={pin.row * 2 < plan.rows}
              />
            )),
          )}
        <Edges plan={plan} x={x} y={y} />
      </svg>
    </div>
  );
}

function Body({ p }: { p: Part }) {
  const [left = 0, top = 0, right = 0, bottom = 0] = p.box;
  const inset = 3;
  return (
    <rect
      x={left * STEP + inset}
      y={top * STEP + inset}
      width={(right - left + 1) * STEP - 2 * inset}
      height={(bottom - top + 1) * STEP - 2 * inset}
      rx={3}
      className={`body body-${p.kind.replace(" ", "-")}`}
    />
  );
}

/** What a terminal is, on either side of the board: above a screw, along a pin of a plug. */
function TerminalName({ name, x, y, top }: { name: string; x: number; y: number; top: boolean }) {
  const at = top ? { x, y: y - STEP * 0.65 } : { x: -(y + STEP * 0.5), y: x };
  return (
    <text
      {...at}
      dy={top ? 0 : "0.35em"}
      textAnchor={top ? "middle" : "end"}
      transform={top ? undefined : "rotate(-90)"}
      className="part-name"
    >
      {name}
    </text>
  );
}

/** The name of a part where it has room: along it, or not at all; the table names all. */
function Name({ p }: { p: Part }) {
  const [left = 0, top = 0, right = 0, bottom = 0] = p.box;
  const [wide, deep] = [(right - left + 1) * STEP, (bottom - top + 1) * STEP];
  const along = Math.max(wide, deep);
  const short = along < STEP * 2 ? "" : p.value && p.kind === "resistor" ? p.value : p.name;
  const room = Math.floor(along / 6.4);
  const text = short.length <= room ? short : `${short.slice(0, Math.max(room - 1, 0))}…`;
  const legs = new Set(p.pins.map((pin) => (deep > wide ? pin.column : pin.row)));
  const onLegs = Math.min(wide, deep) <= STEP && legs.size === 1 && p.pins.length > 2;
  if (!short || room < 3 || onLegs || p.kind === "terminal" || p.kind === "loop") return null;
  const [cx, cy] = [left * STEP + wide / 2, top * STEP + deep / 2];
  return (
    <text
      x={cx}
      y={cy}
      dy="0.35em"
      textAnchor="middle"
      className="part-name"
      transform={deep > wide ? `rotate(-90 ${cx} ${cy})` : undefined}
    >
      {text}
    </text>
  );
}

/** Letters along the top and numbers down the side, every fifth: the way to a hole is counted. */
function Edges({ plan, x, y }: { plan: Plan; x: (c: number) => number; y: (r: number) => number }) {
  const columns = Array.from({ length: plan.columns }, (_, c) => c).filter((c) => c % 5 === 0 && c);
  const rows = Array.from({ length: plan.rows }, (_, r) => r).filter((r) => (r + 1) % 5 === 0);
  return (
    <g className="board-edge">
      {columns.map((c) => (
        <text key={c} x={x(c)} y={STEP / 2} dy="0.35em" textAnchor="middle">
          {plan.letters[c]}
        </text>
      ))}
      {rows.map((r) => (
        <text key={r} x={STEP / 2} y={y(r)} dy="0.35em" textAnchor="middle">
          {r + 1}
        </text>
      ))}
    </g>
  );
}

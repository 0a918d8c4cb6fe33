import { ChartsContainer } from "@mui/x-charts/ChartsContainer";
import { ChartsGrid } from "@mui/x-charts/ChartsGrid";
import { useDrawingArea, useXScale, useYScale } from "@mui/x-charts/hooks";
import { LinePlot } from "@mui/x-charts/LineChart";
import { ChartsXAxis } from "@mui/x-charts/ChartsXAxis";
import { ChartsYAxis } from "@mui/x-charts/ChartsYAxis";
import { useState } from "react";
import { digitsOf } from "./digits";
import { PlotGrip, type Grip } from "./PlotGrip";
import { PlotHands, type Hands } from "./PlotHands";
import { Slide } from "./Slide";

export type Line = {
  id: string;
  label: string;
  data: (number | null)[];
  axis: string;
  tone: 1 | 2 | 3 | 4;
  step?: boolean;
  /** Where along the line its label stands, 0 to 1, and how far above (below zero) it. */
  labelAt?: number;
  labelDy?: number;
  /** Drawn thin, and left out when lines are read off: one of a family that another line stands for. */
  thin?: boolean;
};
export type Axis = { id: string; label: string; side?: "left" | "right" | "none"; min?: number; max?: number };
export type Mark = {
  x?: number;
  y?: number;
  axis?: string;
  label: string;
  tone?: "ink" | "stop" | "brass";
  end?: boolean;
};
export type Zone = { from: number; to: number; label: string };

type Props = {
  x: number[];
  xLabel: string;
  axes: Axis[];
  lines: Line[];
  marks?: Mark[];
  zones?: Zone[];
  points?: { x: number; y: number; axis: string }[];
  height?: number;
  /** What the picture says, for a screen reader. */
  words: string;
  /** Reads the lines off at a place: the name of what x is. */
  readOff?: string;
  units?: Record<string, string>;
  /** What pointer and wheel do on the lines. */
  hands?: Hands;
  /** A point that can be dragged. */
  grip?: Grip;
};

const DASH: Record<number, string> = { 1: "none", 2: "9 4", 3: "2 4", 4: "12 3 2 3" };

const short = (v: number, digits = 3) =>
  Number(v.toPrecision(digits)).toLocaleString("en-GB", { maximumFractionDigits: 6 }).replaceAll(",", "\u202f");

/** Lines over one x, with labels at the lines, marks and zones; each line has its own dash. */
export function Plot({
  x,
  xLabel,
  axes,
  lines,
  marks = [],
  zones = [],
  points = [],
  height = 280,
  words,
  readOff,
  units = {},
  hands,
  grip,
}: Props) {
  const [at, setAt] = useState<number | null>(null);
  const right = axes.filter((a) => a.side === "right").length;
  return (
    <figure className="plot">
      <div role="img" aria-label={words}>
        <ChartsContainer
          height={height}
          skipAnimation
          margin={{ top: 18, right: right ? 4 : 16, bottom: 0, left: 4 }}
          xAxis={[
            {
              id: "x",
              data: x,
              scaleType: "linear",
              label: xLabel,
              min: x[0],
              max: x.at(-1),
              height: 50,
              tickNumber: 6,
              domainLimit: "strict",
              disableTicks: true,
              valueFormatter: (v: number) => short(v),
            },
          ]}
          yAxis={axes.map((a) => ({
            id: a.id,
            position: a.side ?? "none",
            label: a.label,
            min: a.min,
            max: a.max,
            width: 72,
            tickNumber: 5,
            disableTicks: true,
            disableLine: true,
            valueFormatter: (v: number) => short(v, digitsOf(lines.filter((l) => l.axis === a.id).map((l) => l.data))),
          }))}
          series={lines.map((l) => ({
            id: l.id,
            type: "line" as const,
            data: l.data,
            yAxisId: l.axis,
            showMark: false,
            curve: l.step ? ("stepAfter" as const) : ("linear" as const),
            color: `var(--p${l.tone})`,
          }))}
          sx={Object.fromEntries(
            lines.map((l) => [
              `& [data-series="${l.id}"]`,
              { strokeDasharray: l.thin ? "none" : DASH[l.tone], strokeWidth: l.thin ? 1 : 2.2 },
            ]),
          )}
        >
          <ChartsGrid horizontal />
          <Zones zones={zones} />
          <LinePlot skipAnimation />
          <ChartsXAxis axisId="x" />
          {axes
            .filter((a) => a.side === "left" || a.side === "right")
            .map((a) => (
              <ChartsYAxis key={a.id} axisId={a.id} />
            ))}
          <Marks marks={marks} />
          {points.map((p, i) => (
            <Point key={i} point={p} />
          ))}
          {at !== null && x[at] !== undefined && <Marks marks={[{ x: x[at], label: "", tone: "brass" }]} />}
          <Labels x={x} lines={lines} />
          {hands && <PlotHands hands={hands} from={x[0] ?? 0} to={x.at(-1) ?? 1} />}
          {grip && <PlotGrip grip={grip} from={x[0] ?? 0} to={x.at(-1) ?? 1} />}
        </ChartsContainer>
      </div>
      {readOff && x.length > 1 && (
        <p className="read-off">
          <Slide
            label={readOff}
            min={0}
            max={x.length - 1}
            value={at ?? 0}
            onChange={setAt}
            text={at === null ? "not read yet" : reading(x, lines, at, units, xLabel)}
          />
          <output>{at === null ? "slide to read the lines off" : reading(x, lines, at, units, xLabel)}</output>
        </p>
      )}
    </figure>
  );
}

function reading(x: number[], lines: Line[], at: number, units: Record<string, string>, xLabel: string): string {
  const unit = xLabel.split(", ").at(-1) ?? "";
  const parts = lines
    .filter((l) => !l.thin && l.data[at] !== null && l.data[at] !== undefined)
    .map((l) => `${short(l.data[at] as number)} ${units[l.id] ?? ""}`.trim());
  return `${short(x[at] ?? 0)} ${unit}: ${parts.join(", ")}`;
}

type Scale = (v: number) => number | undefined;

function Zones({ zones }: { zones: Zone[] }) {
  const scale = useXScale("x") as unknown as Scale;
  const area = useDrawingArea();
  return (
    <>
      {zones.map((z) => {
        const from = Math.max(scale(z.from) ?? 0, area.left);
        const to = Math.min(scale(z.to) ?? 0, area.left + area.width);
        if (to <= from) return null;
        const roomy = to - from > 110;
        return (
          <g key={z.label} className="zone">
            <rect x={from} y={area.top} width={to - from} height={area.height} />
            <text x={roomy ? to - 6 : from - 6} y={area.top + area.height - 8} textAnchor="end">
              {z.label}
            </text>
          </g>
        );
      })}
    </>
  );
}

function Marks({ marks }: { marks: Mark[] }) {
  return <>{marks.map((m, i) => (m.x !== undefined ? <MarkX key={i} mark={m} /> : <MarkY key={i} mark={m} />))}</>;
}

function MarkX({ mark }: { mark: Mark }) {
  const scale = useXScale("x") as unknown as Scale;
  const area = useDrawingArea();
  const at = scale(mark.x ?? 0) ?? 0;
  if (at < area.left - 1 || at > area.left + area.width + 1) return null;
  const turn = mark.end || at > area.left + area.width * 0.6;
  return (
    <g className={`mark mark-${mark.tone ?? "ink"}`}>
      <line x1={at} x2={at} y1={area.top} y2={area.top + area.height} />
      <text x={turn ? at - 6 : at + 6} y={area.top - 5} textAnchor={turn ? "end" : "start"}>
        {mark.label}
      </text>
    </g>
  );
}

function MarkY({ mark }: { mark: Mark }) {
  const scale = useYScale(mark.axis ?? "y") as unknown as Scale;
  const area = useDrawingArea();
  const at = scale(mark.y ?? 0) ?? 0;
  if (at < area.top - 1 || at > area.top + area.height + 1) return null;
  return (
    <g className={`mark mark-${mark.tone ?? "ink"}`}>
      <line x1={area.left} x2={area.left + area.width} y1={at} y2={at} />
      <text x={area.left + area.width - 4} y={at - 5} textAnchor="end">
        {mark.label}
      </text>
    </g>
  );
}

function Point({ point }: { point: { x: number; y: number; axis: string } }) {
  const scaleX = useXScale("x") as unknown as Scale;
  const scaleY = useYScale(point.axis) as unknown as Scale;
  return <circle className="plot-point" r={6} cx={scaleX(point.x)} cy={scaleY(point.y)} />;
}

function Labels({ x, lines }: { x: number[]; lines: Line[] }) {
  const area = useDrawingArea();
  return (
    <>
      {lines.map((l) => (
        <Label key={l.id} x={x} line={l} left={area.left} right={area.left + area.width} top={area.top} />
      ))}
    </>
  );
}

function Label({ x, line, left, right, top }: { x: number[]; line: Line; left: number; right: number; top: number }) {
  const scaleX = useXScale("x") as unknown as Scale;
  const scaleY = useYScale(line.axis) as unknown as Scale;
  const index = Math.round((line.labelAt ?? 0.5) * (x.length - 1));
  const value = line.data[index];
  if (value === null || value === undefined) return null;
  const px = scaleX(x[index] ?? 0) ?? 0;
  const anchor = px < left + 40 ? "start" : px > right - 60 ? "end" : "middle";
  const py = Math.max((scaleY(value) ?? 0) + (line.labelDy ?? -8), top + 12);
  return (
    <text
      className="line-label"
      style={{ fill: `var(--p${line.tone})` }}
      x={anchor === "start" ? Math.max(px, left + 4) : px}
      y={py}
      textAnchor={anchor}
    >
      {line.label}
    </text>
  );
}

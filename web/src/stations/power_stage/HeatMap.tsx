import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from "react";
import { OneOf } from "@/shared/OneOf";
import { MapReading } from "./MapReading";
import { nearest } from "@/shared/span";
import { bandOf, isolines, short, type MapView, type Place } from "./places";

const LEFT = 54;
const TOP = 12;
const BOTTOM = 40;
const RIGHT = 12;
const HEIGHT = 300;

/* Steps of one hue from the sheet's ground to ink, so that it reads in print and without colour. */
function shade(share: number, dark: boolean): [number, number, number] {
  const from = dark ? [36, 48, 52] : [246, 249, 249];
  const to = dark ? [98, 182, 234] : [0, 82, 140];
  const s = Math.min(Math.max(share, 0), 1);
  return [0, 1, 2].map((i) => Math.round(from[i]! + (to[i]! - from[i]!) * s)) as [number, number, number];
}

/** Junction temperature (or loss) over motor current and PWM frequency: a canvas under scales, limit and working point. */
export function HeatMap({ map }: { map: MapView }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(560);
  const [shown, setShown] = useState<"junction" | "loss">("junction");
  const [moved, setAt] = useState<Place | null>(null);
  const [pinned, setPinned] = useState<Place | null>(null);
  // Measured before it is painted: a picture wider than its place, be it for a frame, would make the page scroll.
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    const measure = () => setWidth(Math.max(box.clientWidth, 260));
    measure();
    const seen = new ResizeObserver(measure);
    seen.observe(box);
    return () => seen.disconnect();
  }, []);
  const inner = width - LEFT - RIGHT;
  const tall = HEIGHT - TOP - BOTTOM;
  const rows = map.frequency_hz.length;
  const columns = map.current_a.length;
  const grid = shown === "junction" ? map.junction_c : map.loss_w;
  const low = shown === "junction" ? (grid[0]?.[0] ?? 0) : 0;
  const top =
    shown === "junction"
      ? map.limit_c
      : Math.max(...grid.flatMap((r) => r.map((v) => v ?? 0)).slice(0, columns * rows));
  const band = bandOf(top - low);
  const levels = Array.from({ length: 9 }, (_, i) => band * (Math.floor(low / band) + 1 + i)).filter((v) => v < top);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    const dark = document.querySelector("[data-scheme='dark']") !== null;
    const image = context.createImageData(columns, rows);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const value = grid[rows - 1 - r]?.[c];
        const over = value === null || value === undefined || (shown === "junction" && value > map.limit_c);
        const hatch = (r + c) % 6 < 2;
        const colour = over
          ? hatch
            ? dark
              ? [181, 56, 47]
              : [163, 35, 27]
            : dark
              ? [60, 33, 31]
              : [248, 228, 225]
          : shade((band * Math.floor(value / band) - low) / (top - low || 1), dark);
        image.data.set([...colour, 255], 4 * (r * columns + c));
      }
    context.putImageData(image, 0, 0);
  }, [grid, columns, rows, low, top, band, shown, map.limit_c]);
  const most = map.current_a.at(-1) ?? 1;
  const first = map.frequency_hz[0] ?? 1;
  const last = map.frequency_hz.at(-1) ?? 1;
  const x = (a: number) => LEFT + (a / most) * inner;
  const y = (hz: number) => TOP + tall * (1 - Math.log(hz / first) / Math.log(last / first));
  const limit = map.limit_a
    .map((a, i) => (a === null ? null : `${x(a).toFixed(1)},${y(map.frequency_hz[i] ?? first).toFixed(1)}`))
    .filter(Boolean)
    .join(" ");
  const ticks = [1000, 2000, 5000, 10000, 20000, 50000, 100000, 200000].filter((f) => f >= first && f <= last);
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100].find((s) => most / s <= 7) ?? 200;
  const amps = Array.from({ length: Math.floor(most / step) }, (_, i) => (i + 1) * step);
  const at = moved ?? { row: nearest(map.frequency_hz, map.working_hz), column: nearest(map.current_a, map.working_a) };
  const point = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const across = (e.clientX - box.left - LEFT) / inner;
    const up = 1 - (e.clientY - box.top - TOP) / tall;
    if (across < 0 || across > 1 || up < 0 || up > 1) return;
    setAt({ row: Math.round(up * (rows - 1)), column: nearest(map.current_a, across * most) });
  };
  const mark = (p: Place, className: string) => (
    <circle cx={x(map.current_a[p.column] ?? 0)} cy={y(map.frequency_hz[p.row] ?? first)} r="5" className={className} />
  );
  return (
    <figure className="heatmap" ref={frame}>
      <div className="heatmap-head">
        <figcaption>
          {shown === "junction" ? "Hottest junction, °C" : "Loss of the whole stage, W"}: a shade each{" "}
          {Number(band.toPrecision(3))}
        </figcaption>
        <OneOf
          label="What the map shows"
          choices={[
            { key: "junction", label: "Junction" },
            { key: "loss", label: "Loss" },
          ]}
          value={shown}
          onChoose={setShown}
        />
      </div>
      <div className="heatmap-frame" style={{ height: HEIGHT }} role="img" aria-label={map.words}>
        <canvas
          ref={canvas}
          width={columns}
          height={rows}
          style={{ left: LEFT, top: TOP, width: inner, height: tall }}
        />
        <svg width={width} height={HEIGHT} aria-hidden="true" onPointerMove={point} onPointerDown={point}>
          <path d={`M${LEFT} ${TOP}V${TOP + tall}H${LEFT + inner}`} className="axis" />
          {ticks.map((f) => (
            <g key={f}>
              <path d={`M${LEFT - 5} ${y(f)}H${LEFT}`} className="axis" />
              <text x={LEFT - 8} y={y(f) + 4} textAnchor="end">
                {f >= 1000 ? f / 1000 : f}
              </text>
            </g>
          ))}
          {amps.map((a) => (
            <g key={a}>
              <path d={`M${x(a)} ${TOP + tall}v5`} className="axis" />
              <text x={x(a)} y={TOP + tall + 18} textAnchor="middle">
                {short(a)}
              </text>
            </g>
          ))}
          <text x={LEFT + inner} y={HEIGHT - 6} textAnchor="end">
            motor current as its heat counts it, A
          </text>
          <text x={LEFT + 6} y={TOP + 14}>
            kHz
          </text>
          {limit && <polyline points={limit} className="limit" />}
          <path
            d={`M${x(map.working_a)} ${TOP}V${TOP + tall}M${LEFT} ${y(map.working_hz)}H${LEFT + inner}`}
            className="cross"
          />
          <circle cx={x(map.working_a)} cy={y(map.working_hz)} r="6" className="here" />
          {isolines(grid, levels).map((l) => (
            <text
              key={l.level}
              x={x(map.current_a[l.at.column] ?? 0)}
              y={y(map.frequency_hz[l.at.row] ?? first)}
              textAnchor="middle"
              className="level"
            >
              {Number(l.level.toPrecision(3))}
            </text>
          ))}
          {pinned && mark(pinned, "pinned")}
          {moved && mark(moved, "pointed")}
        </svg>
      </div>
      <p className="field-help">
        {map.words} Hatched: beyond the limit, or running away. The safe area is what lies left of it.
      </p>
      <MapReading map={map} at={at} pinned={pinned} onMove={setAt} onPin={setPinned} />
    </figure>
  );
}

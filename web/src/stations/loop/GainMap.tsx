import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";

type View = components["schemas"]["GainMapView"];
const short = (x = 0) => String(Number(x.toPrecision(2)));
const SHADES = [0.02, 0.05, 0.1, 0.2, 0.4];

/** Overshoot over gain and integral time, with the working point on it. */
export function GainMap({ gain, integral }: { gain: number | null; integral: number | null }) {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [found, setFound] = useState<View | null>(null);
  const draw = () =>
    attempt(async () => {
      if (!draft.draft) return;
      setFound(await take(api.POST("/api/loop/map", { body: { build: draft.draft, drive } })));
    });
  return (
    <section className="gain-map" aria-label="Map of gain and integral time">
      <p className="button-row">
        <Button size="small" variant="outlined" onClick={() => void draw()}>
          {found ? "Draw the map anew" : "Map gain and integral time"}
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && <Drawn view={found} gain={gain} integral={integral} />}
    </section>
  );
}

function Drawn({ view, gain, integral }: { view: View; gain: number | null; integral: number | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [columns, rows] = [view.gain_pct_per_rpm, view.integral_ms];
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    const style = getComputedStyle(context.canvas);
    const [tone, bad] = [style.getPropertyValue("--p1"), style.getPropertyValue("--ink3")];
    context.clearRect(0, 0, columns.length, rows.length);
    view.overshoot.forEach((row, y) =>
      row.forEach((value, x) => {
        context.globalAlpha = value === null ? 1 : 0.08 + 0.17 * SHADES.filter((s) => value > s).length;
        context.fillStyle = value === null ? bad : tone;
        context.fillRect(x, rows.length - 1 - y, 1, 1);
      }),
    );
  }, [view, columns.length, rows.length]);
  const at = (value: number | null, scale: number[]) => {
    const [low, high] = [scale[0] ?? 1, scale.at(-1) ?? 2];
    return value === null ? null : (100 * Math.log(value / low)) / Math.log(high / low);
  };
  const [x, y] = [at(gain, columns), at(integral, rows)];
  return (
    <figure className="gain-map-drawn">
      <div className="gain-map-frame">
        <canvas
          ref={canvas}
          width={columns.length}
          height={rows.length}
          role="img"
          aria-label={`Overshoot over gains of ${short(columns[0])} to ${short(columns.at(-1))} %/rpm and integral times of ${short(rows[0])} to ${short(rows.at(-1))} ms`}
        />
        {x !== null && y !== null && x >= 0 && x <= 100 && y >= 0 && y <= 100 && (
          <span className="gain-map-here" style={{ left: `${x}%`, bottom: `${y}%` }} title="The working point" />
        )}
      </div>
      <figcaption className="field-help">
        Right: gain, {short(columns[0])} to {short(columns.at(-1))} %/rpm. Up: integral time, {short(rows[0])} to{" "}
        {short(rows.at(-1))} ms; both by factors. The darker, the more it overshoots: from below 2 % by 2, 5, 10, 20, 40
        %; grey: it does not come to the target within {view.seconds.toPrecision(2)} s.
        {x !== null && y !== null
          ? " The ring is the working point."
          : " There is no ring: the loop is proportional alone."}
      </figcaption>
    </figure>
  );
}

import Button from "@mui/material/Button";
import { useState } from "react";
import type { components } from "@/../generated/schema";
import { Plot, type Line } from "@/shared/Plot";
import { between, LEAST, nearest, wider, type Span } from "@/shared/span";
import { Cursors } from "./Cursors";

type Run = components["schemas"]["RunView"];
type Props = {
  run: Run;
  averaged: boolean;
  places: [number, number];
  onMove: (places: [number, number]) => void;
  /** Single pulses are asked for, at a time in s. */
  onPulses: (time: number) => void;
};
const text = (v: number) => Number(v.toPrecision(3)).toString();

/** A run over time: a stretch of it is drawn to be looked at closer, cursors are moved by hand or by keys. */
export function RunPlot({ run, averaged, places, onMove, onPulses }: Props) {
  const last = run.time_s.length - 1;
  const [span, setSpan] = useState<Span>([0, last]);
  const [from, to] = span;
  const [a, b]: [number, number] = [Math.min(places[0], last), Math.min(places[1], last)];
  const whole = from === 0 && to === last;
  const cut = (row: number[]) => row.slice(from, to + 1);
  const at = (time: number) => nearest(run.time_s, time);
  /* A run is kept in so many steps. Below them there is nothing to draw: the pulses themselves are simulated. */
  const look = (next: Span, about: number) => {
    if (next[1] - next[0] <= LEAST) onPulses(run.time_s[about]!);
    setSpan(next);
  };
  const widen = (about: number, times: number) => {
    if (times > 1 && whole) return false;
    if (times < 1 && to - from <= LEAST) return true;
    look(wider(span, about, times, last), about);
    return true;
  };
  const low: Line = {
    id: "low",
    label: "lowest",
    data: cut(run.current_low_a),
    axis: "a",
    tone: 3,
    labelAt: 0.6,
    labelDy: 14,
  };
  return (
    <>
      <Plot
        x={cut(run.time_s)}
        xLabel="time, s"
        axes={[
          { id: "a", label: "motor current, A", side: "left" },
          { id: "n", label: "speed, rpm", side: "right" },
        ]}
        lines={[
          { id: "high", label: "current, highest", data: cut(run.current_high_a), axis: "a", tone: 1, labelAt: 0.12 },
          ...(averaged ? [] : [low]),
          { id: "speed", label: "speed", data: cut(run.speed_rpm), axis: "n", tone: 2, labelAt: 0.8 },
        ]}
        marks={[a, b].map((place, k) => ({ x: run.time_s[place]!, label: "AB"[k]!, tone: "brass" as const }))}
        words={`Current and speed over time: ${run.measured.map((f) => `${f.name} ${f.text}`).join(", ")}.`}
        height={260}
        hands={{
          cursors: [run.time_s[a]!, run.time_s[b]!],
          onCursor: (which, time) => onMove(which === 0 ? [at(time), b] : [a, at(time)]),
          onSpan: (x, y) => look(between(at(x), at(y), last), at((x + y) / 2)),
          onWider: (time, times) => widen(at(time), times),
          onWhole: () => setSpan([0, last]),
        }}
      />
      <p className="button-row run-span">
        <Button size="small" disabled={to - from <= LEAST} onClick={() => widen(within(a, span), 0.5)}>
          Closer
        </Button>
        <Button size="small" disabled={whole} onClick={() => widen(within(a, span), 2)}>
          Wider
        </Button>
        <Button size="small" disabled={whole} onClick={() => setSpan([0, last])}>
          All of it
        </Button>
        <span className="field-help" role="status">
          {whole
            ? "Draw over the plot to look closer; drag A or B. Pressed once, it takes the wheel."
            : `From ${text(run.time_s[from]!)} s to ${text(run.time_s[to]!)} s.`}
        </span>
      </p>
      <Cursors
        x={run.time_s}
        unit="s"
        rows={[
          { name: "current", unit: "A", data: run.current_high_a },
          { name: "speed", unit: "rpm", data: run.speed_rpm },
          { name: "bus", unit: "V", data: run.bus_high_v },
        ]}
        places={[a, b]}
        onMove={onMove}
      />
    </>
  );
}

/** Where the buttons look closer: at cursor A where it is in sight, else in the middle. */
const within = (place: number, [from, to]: Span) =>
  place >= from && place <= to ? place : Math.round((from + to) / 2);

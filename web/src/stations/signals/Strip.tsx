import { useState, type KeyboardEvent } from "react";
import type { PictureOf } from "@/api/client";

type View = PictureOf<"signals">["strips"][number];
const LEFT = 84;
const WIDTH = 480;
const ROW = 30;
/** No piece is drawn narrower than this share, so that a dead time can be seen and stepped on. */
const LEAST = 0.05;

/** Levels of the driver's lines piece by piece; arrow keys step through them, and the words say what happens. */
export function Strip({ view }: { view: View }) {
  const [at, setAt] = useState(0);
  const index = Math.min(at, view.segments.length - 1);
  const segment = view.segments[index];
  if (!segment) return null;
  const total = view.segments.reduce((sum, s) => sum + s.length, 0);
  const shares = view.segments.map((s) => Math.max(s.length / total, LEAST));
  const whole = shares.reduce((a, b) => a + b, 0);
  const starts = shares.map((_, i) => shares.slice(0, i).reduce((a, b) => a + b, 0) / whole);
  const x = (share: number) => LEFT + share * (WIDTH - LEFT - 6);
  const step = (event: KeyboardEvent) => {
    const to = { ArrowRight: index + 1, ArrowLeft: index - 1, Home: 0, End: view.segments.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    setAt((to + view.segments.length) % view.segments.length);
  };
  const tall = view.lines.length * ROW + 8;
  return (
    <figure className="strip">
      <figcaption>{view.title}</figcaption>
      <svg
        className="drawing"
        viewBox={`0 0 ${WIDTH} ${tall}`}
        role="slider"
        tabIndex={0}
        aria-label={`${view.title}: step with the arrow keys`}
        aria-valuemin={1}
        aria-valuemax={view.segments.length}
        aria-valuenow={index + 1}
        aria-valuetext={`${segment.text}: ${segment.says}`}
        onKeyDown={step}
      >
        <rect
          className="strip-now"
          x={x(starts[index]!)}
          y={0}
          width={x(shares[index]! / whole) - LEFT}
          height={tall}
        />
        {view.lines.map((line, row) => {
          const y = 8 + row * ROW;
          return (
            <g key={line}>
              <text className="strong" x={0} y={y + 15}>
                {line}
              </text>
              {view.segments.map((s, i) => {
                const level = s.levels[line] ?? "0";
                const [a, b] = [x(starts[i]!), x(starts[i]! + shares[i]! / whole)];
                const before = i > 0 ? (view.segments[i - 1]!.levels[line] ?? "0") : level;
                const top = y + 2;
                const low = y + 18;
                return (
                  <g key={i} className="strip-level">
                    {level.includes("PWM") ? (
                      <rect className="strip-pwm" x={a} y={top} width={b - a} height={16} />
                    ) : (
                      <line x1={a} x2={b} y1={level === "1" ? top : low} y2={level === "1" ? top : low} />
                    )}
                    {before !== level && <line x1={a} x2={a} y1={top} y2={low} />}
                  </g>
                );
              })}
            </g>
          );
        })}
        {view.segments.map((s, i) => (
          <rect
            key={i}
            className="strip-hit"
            x={x(starts[i]!)}
            y={0}
            width={x(shares[i]! / whole) - LEFT}
            height={tall}
            onClick={() => setAt(i)}
          >
            <title>{`${s.text}: ${s.says}`}</title>
          </rect>
        ))}
      </svg>
      <p className="strip-words" aria-live="polite">
        <b className="num">
          {index + 1} of {view.segments.length}, {segment.text}
        </b>{" "}
        {segment.says}
        <span className="num"> ({view.lines.map((l) => `${l} ${segment.levels[l] ?? "0"}`).join(", ")})</span>
      </p>
    </figure>
  );
}

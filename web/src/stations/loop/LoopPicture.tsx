import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";
import type { PictureProps } from "@/shared/picture";
import "./loop.css";

/** The step response with its target, overshoot and settling. */
export default function LoopPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"loop">;
  if (p.time_s.length === 0)
    return (
      <>
        <p className="hint">
          {p.note
            ? `No step to draw: ${p.note}.`
            : "Give the gain, and the motor, load and supply before it: the step is simulated from them."}
        </p>
      </>
    );
  const most = Math.max(...p.speed_rpm, p.target_rpm ?? 0);
  return (
    <>
      <Plot
        x={p.time_s}
        xLabel="time, s"
        axes={[{ id: "n", label: "motor, rpm", side: "left", min: 0, max: most * 1.15 }]}
        lines={[{ id: "speed", label: "speed", data: p.speed_rpm, axis: "n", tone: 1, labelAt: 0.6, labelDy: 22 }]}
        marks={[
          ...(p.target_rpm !== null ? [{ y: p.target_rpm, axis: "n", label: "target", tone: "brass" as const }] : []),
          ...(p.settling_s !== null ? [{ x: p.settling_s, label: "settled" }] : []),
        ]}
        words={`Speed after a step: target ${p.target_rpm} rpm, ends at ${p.final_rpm} rpm, settled after ${p.settling_s} s.`}
        readOff="Read off at a time"
        units={{ speed: "rpm" }}
        height={250}
      />
      <Plot
        x={p.time_s}
        xLabel="time, s"
        axes={[
          { id: "d", label: "duty, %", side: "left", min: 0, max: 100 },
          { id: "a", label: "motor, A", side: "right" },
        ]}
        lines={[
          { id: "duty", label: "duty", data: p.duty_pct, axis: "d", tone: 3, step: true, labelAt: 0.75, labelDy: -8 },
          { id: "current", label: "current", data: p.current_a, axis: "a", tone: 2, labelAt: 0.25, labelDy: -8 },
        ]}
        words="Duty and motor current during the step."
        height={170}
      />
      {p.whole && <p className="field-help">{p.whole}</p>}
    </>
  );
}

import { lazy, Suspense, useState } from "react";
import Button from "@mui/material/Button";
import type { PictureOf } from "@/api/client";
import { Plot, type Line } from "@/shared/Plot";
import type { PictureProps } from "@/shared/picture";
import { Slide } from "@/shared/Slide";
import { useActions, useShell } from "@/draft/context";
import { Heat, Next, Remedies, Ways } from "./parts";
import { MotorShelf, WhatIf } from "./WhatIf";
import "./motor.css";

const SpinUp = lazy(() => import("./SpinUp"));
type Motor = PictureOf<"motor">;

const top = (data: number[]) => data.indexOf(Math.max(...data)) / (data.length - 1);
const fig = (v: number) => Number(v.toPrecision(3)).toLocaleString("en-GB").replaceAll(",", "\u202f");

/** The motor's curves, what to read next, and what another supply, gear or motor would make of it. */
export default function MotorPicture({ picture }: PictureProps) {
  const p = picture as Motor;
  const [importing, setImporting] = useState(false);
  const [shelf, setShelf] = useState(false);
  return (
    <div className="motor-picture">
      {p.known && <Curves p={p} />}
      {!p.known && !p.session && (
        <p className="hint">The motor is not known yet: give the figures on the left, or import a spin-up.</p>
      )}
      {p.session && <Next session={p.session} />}
      {p.known && <WhatIf other={p.other} refused={p.refused} />}
      <p className="button-row">
        <Button size="small" variant="outlined" onClick={() => setImporting(true)}>
          Import a spin-up …
        </Button>
        <Button size="small" variant="outlined" onClick={() => setShelf(true)}>
          Motors on the shelf …
        </Button>
      </p>
      {p.ways.length > 0 && <Ways ways={p.ways} />}
      {p.heat && <Heat heat={p.heat} />}
      {p.remedies.length > 0 && <Remedies remedies={p.remedies} />}
      {importing && (
        <Suspense fallback={null}>
          <SpinUp onClose={() => setImporting(false)} />
        </Suspense>
      )}
      {shelf && <MotorShelf onClose={() => setShelf(false)} />}
    </div>
  );
}

const LABELLED = 0.2;

/** A straight line over the torques of the picture, ending where it reaches no speed; its name low down, where there is
 * room. The one of the work is named at its point. */
function dutyLine(d: Motor["duty_lines"][number], torques: number[], most: number): Line {
  const data = torques.map((t) => (t <= d.stall_mnm ? d.free_rpm * (1 - t / d.stall_mnm) : null));
  const low = d.stall_mnm * Math.max(1 - (LABELLED * most) / d.free_rpm, 0);
  const labelAt = low / (torques.at(-1) || 1);
  const id = d.at_work ? "duty-at-work" : `duty-${d.text}`;
  return { id, label: d.at_work ? "" : d.text, data, axis: "speed", tone: 1, thin: true, labelAt, labelDy: -6 };
}

function Curves({ p }: { p: Motor }) {
  const { drive } = useActions();
  const { draft } = useShell();
  const last = p.torque_mnm.at(-1) ?? 0;
  const [speed0, stall] = [p.speed_rpm[0] ?? 0, p.current_a.at(-1) ?? 0];
  const [power, best] = [Math.max(...p.power_w), Math.max(...p.efficiency_pct)];
  const working = p.working_torque_mnm;
  const speedAt = p.working_speed_rpm;
  const other = p.other && p.other.speed_rpm.length > 0 ? p.other : null;
  const most = Math.max(speed0, ...(other?.speed_rpm.map((v) => v ?? 0) ?? []));
  const lines: Line[] = [
    { id: "speed", label: `${fig(speed0)} rpm`, data: p.speed_rpm, axis: "speed", tone: 1, labelAt: 0.1, labelDy: -10 },
    {
      id: "current",
      label: `${fig(stall)} A at stall`,
      data: p.current_a,
      axis: "current",
      tone: 2,
      labelAt: 0.86,
      labelDy: 30,
    },
  ];
  if (other) {
    lines.push(
      { id: "other-speed", label: "what if", data: other.speed_rpm, axis: "speed", tone: 3, labelAt: 0.3, labelDy: -8 },
      { id: "other-current", label: "", data: other.current_a, axis: "current", tone: 4 },
    );
  } else {
    lines.push(
      {
        id: "power",
        label: `${fig(power)} W`,
        data: p.power_w,
        axis: "power",
        tone: 3,
        labelAt: top(p.power_w),
        labelDy: -8,
      },
      {
        id: "efficiency",
        label: `${fig(best)} %`,
        data: p.efficiency_pct,
        axis: "efficiency",
        tone: 4,
        labelAt: top(p.efficiency_pct),
        labelDy: 20,
      },
    );
  }
  // The family stands for other duties; the one at which it works has the point on it.
  if (!other) lines.push(...p.duty_lines.map((d) => dutyLine(d, p.torque_mnm, most)));
  const atWork = p.duty_lines.find((d) => d.at_work);
  const marks =
    working === null
      ? []
      : [{ x: working, label: [p.working_text, atWork && `${atWork.text} duty`].filter(Boolean).join(", ") }];
  const points = working === null || speedAt === null ? [] : [{ x: working, y: speedAt, axis: "speed" }];
  const moved =
    other?.working_torque_mnm != null && other.working_speed_rpm != null
      ? { x: other.working_torque_mnm, y: other.working_speed_rpm, axis: "speed" }
      : null;
  if (moved) points.push(moved);
  const held = moved ?? points[0];
  const moveTo = (torque: number) => {
    draft.setWhatIf({ ...draft.whatIf, gear_ratio: "", motor_torque: `${fig(Math.max(torque, last / 1000))} mN·m` });
  };
  const words = other
    ? `Motor curves with the what-if beside: ${other.text}: ${other.words.join(", ")}.`
    : `Motor curves over torque from 0 to ${fig(last)} mN·m: speed falls from ${fig(speed0)} rpm to zero, current rises to ${fig(stall)} A, power peaks at ${fig(power)} W, efficiency at ${fig(best)} %. ${p.working_text}${atWork ? `, ${fig(speedAt ?? 0)} rpm at a duty of ${atWork.text}` : ""}.`;
  return (
    <>
      <Plot
        key={drive}
        x={p.torque_mnm}
        xLabel="shaft torque, mN·m"
        axes={[
          { id: "speed", label: "speed, rpm", side: "left", min: 0, max: most * 1.05 },
          { id: "current", label: "current, A", side: "right", min: 0 },
          { id: "power", label: "", min: 0, max: power * 1.25 },
          { id: "efficiency", label: "", min: 0, max: 100 },
        ]}
        lines={lines}
        marks={marks}
        points={points}
        zones={
          p.driver_torque_mnm !== null && p.driver_torque_mnm < last
            ? [{ from: p.driver_torque_mnm, to: last, label: `beyond the ${p.driver_text}` }]
            : []
        }
        words={words}
        readOff="Read off at a torque"
        units={{ speed: "rpm", current: "A", power: "W", efficiency: "%", "other-speed": "rpm", "other-current": "A" }}
        height={300}
        grip={held && { ...held, onMove: moveTo }}
      />
      {held && (
        <p className="read-off">
          <Slide
            label="Work at another torque"
            min={0}
            max={last}
            step={last / 200}
            value={Math.min(Math.max(held.x, 0), last)}
            onChange={moveTo}
            text={
              other ? `${fig(held.x)} mN·m: ${other.text}, ${other.words.join(", ")}` : `${fig(held.x)} mN·m, as it is`
            }
          />
          <output>{other ? "" : "or drag the point"}</output>
        </p>
      )}
    </>
  );
}

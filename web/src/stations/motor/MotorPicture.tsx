import type { PictureOf } from "../../api/client";
import { Plot } from "../../shared/Plot";
import type { PictureProps } from "../../shell/SheetView";

const top = (data: number[]) => data.indexOf(Math.max(...data)) / (data.length - 1);
const fig = (v: number) => Number(v.toPrecision(3)).toLocaleString("en-GB").replaceAll(",", "\u202f");

/** Speed, current, power and efficiency over shaft torque, with the working point. */
export default function MotorPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"motor">;
  const last = p.torque_mnm.at(-1) ?? 0;
  const [speed0, stall] = [p.speed_rpm[0] ?? 0, p.current_a.at(-1) ?? 0];
  const [power, best] = [Math.max(...p.power_w), Math.max(...p.efficiency_pct)];
  const working = p.working_torque_mnm;
  const nearest = p.torque_mnm.findIndex((t) => working !== null && t >= working);
  const speedAt = p.speed_rpm[nearest] ?? null;
  return (
    <Plot
      x={p.torque_mnm}
      xLabel="shaft torque, mN·m"
      axes={[
        { id: "speed", label: "speed, rpm", side: "left", min: 0 },
        { id: "current", label: "current, A", side: "right", min: 0 },
        { id: "power", label: "", min: 0, max: power * 1.25 },
        { id: "efficiency", label: "", min: 0, max: 100 },
      ]}
      lines={[
        {
          id: "speed",
          label: `${fig(speed0)} rpm`,
          data: p.speed_rpm,
          axis: "speed",
          tone: 1,
          labelAt: 0.1,
          labelDy: -10,
        },
        {
          id: "current",
          label: `${fig(stall)} A at stall`,
          data: p.current_a,
          axis: "current",
          tone: 2,
          labelAt: 0.86,
          labelDy: 30,
        },
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
      ]}
      marks={working === null ? [] : [{ x: working, label: p.working_text }]}
      points={working === null || speedAt === null ? [] : [{ x: working, y: speedAt, axis: "speed" }]}
      zones={
        p.driver_torque_mnm !== null && p.driver_torque_mnm < last
          ? [{ from: p.driver_torque_mnm, to: last, label: `beyond the ${p.driver_text}` }]
          : []
      }
      words={`Motor curves over torque from 0 to ${fig(last)} mN·m: speed falls from ${fig(speed0)} rpm to zero, current rises to ${fig(stall)} A, power peaks at ${fig(power)} W, efficiency at ${fig(best)} %. ${p.working_text}.`}
      readOff="Read off at a torque"
      units={{ speed: "rpm", current: "A", power: "W", efficiency: "%" }}
      height={300}
    />
  );
}

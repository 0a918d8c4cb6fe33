import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";
import { Strip } from "./Strip";

type View = PictureOf<"signals">;

/** What the motor gets: three periods of volts and current, the start, the driver's lines edge by edge, its truth table. */
export function Pulses({ p }: { p: View }) {
  return (
    <>
      {p.time_us.length > 0 ? (
        <div className="strips">
          <Plot
            x={p.time_us}
            xLabel="time, µs"
            axes={[{ id: "v", label: "motor, V", side: "left" }]}
            height={120}
            lines={[
              {
                id: "v",
                label: "motor volts",
                data: p.motor_v,
                axis: "v",
                tone: 1,
                step: true,
                labelAt: 0.06,
                labelDy: 16,
              },
            ]}
            words="Three PWM periods: volts across the motor."
          />
          <Plot
            x={p.time_us}
            xLabel="time, µs"
            axes={[{ id: "a", label: "motor, A", side: "left" }]}
            height={150}
            lines={[
              { id: "a", label: "motor current", data: p.current_a, axis: "a", tone: 2, labelAt: 0.5, labelDy: -12 },
            ]}
            words="Three PWM periods: current through the motor, rising while on and falling while off."
            readOff="Read off at a time"
            units={{ a: "A" }}
          />
        </div>
      ) : (
        p.told_by === "pulses" && (
          <p className="hint">The strip is drawn once motor, load, supply and a timer are known.</p>
        )
      )}
      {p.strips.map((s) => (
        <Strip key={s.title} view={s} />
      ))}
      {p.ramp_time_s.length > 0 && (
        <Plot
          x={p.ramp_time_s}
          xLabel="start, s"
          height={170}
          axes={[
            { id: "d", label: "duty, %", side: "left", min: 0, max: 100 },
            {
              id: "a",
              label: "motor, A",
              side: "right",
              min: 0,
              max: Math.max(...p.ramp_current_a, p.current_limit_a ?? 0) * 1.15,
            },
          ]}
          lines={[
            { id: "d", label: "duty", data: p.ramp_duty_pct, axis: "d", tone: 1, labelAt: 0.8, labelDy: 22 },
            { id: "a", label: "current", data: p.ramp_current_a, axis: "a", tone: 2, labelAt: 0.3, labelDy: -8 },
          ]}
          marks={
            p.current_limit_a !== null
              ? [{ y: p.current_limit_a, axis: "a", label: "current limit", tone: "stop" }]
              : []
          }
          words="The start: duty and motor current over time."
        />
      )}
      {p.truth.length > 0 && (
        <div className="scroll">
          <table className="grid-table">
            <caption>What the inputs make it do</caption>
            <thead>
              <tr>
                {p.truth_names.map((n) => (
                  <th key={n}>{n}</th>
                ))}
                <th>OUT 1</th>
                <th>OUT 2</th>
                <th>The motor</th>
                {p.truth.some((r) => r.lamps) && <th>Lamps lit</th>}
              </tr>
            </thead>
            <tbody>
              {p.truth.map((r) => (
                <tr key={r.inputs.join() + r.motor}>
                  {r.inputs.map((v, i) => (
                    <td key={i} className="num">
                      {v}
                    </td>
                  ))}
                  <td className="num">{r.output_1}</td>
                  <td className="num">{r.output_2}</td>
                  <td>{r.motor}</td>
                  {p.truth.some((x) => x.lamps) && <td>{r.lamps || "none"}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

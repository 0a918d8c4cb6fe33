import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";

/** The supply at the driver through one start on a flat battery, against what the logic needs; shared or split. */
export function Sag({ p }: { p: PictureOf<"supply"> }) {
  const lowest = Math.min(...p.sag_v);
  return (
    <>
      {p.sag_time_s.length > 0 && (
        <Plot
          x={p.sag_time_s}
          xLabel="time, s"
          axes={[
            {
              id: "v",
              label: "at the driver, V",
              side: "left",
              min: Math.max(0, Math.min(lowest, p.need_v ?? lowest) * 0.9),
            },
          ]}
          lines={[{ id: "v", label: "one start, flat", data: p.sag_v, axis: "v", tone: 1, labelAt: 0.3, labelDy: 20 }]}
          marks={p.need_v === null ? [] : [{ y: p.need_v, axis: "v", label: "the logic needs", tone: "stop" }]}
          words={`One start on a flat supply: it falls to ${lowest.toPrecision(3)} V.`}
          height={180}
        />
      )}
      {p.advice.length > 0 && (
        <section className="advice" aria-label="Shared or split">
          <h3>Shared or split? {p.advice[0]}</h3>
          <ul>
            {p.advice.slice(1).map((a) => (
              <li key={a}>{a}</li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

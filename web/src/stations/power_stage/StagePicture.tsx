import type { PictureOf } from "../../api/client";
import { Plot } from "@/shared/Plot";
import type { PictureProps } from "../../shell/SheetView";

/** Junction over motor current, with the limit; and what the heat is made of. */
export default function StagePicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"stage">;
  if (!p.built_in)
    return <p className="hint">No driver is chosen yet: choose one at Driver, and its heat is worked out here.</p>;
  const total = p.losses.reduce((sum, l) => sum + Math.max(l.watts, 0), 0);
  return (
    <>
      {p.current_a.length > 0 && p.limit_c !== null && (
        <Plot
          x={p.current_a}
          xLabel="motor current, RMS, A"
          axes={[{ id: "t", label: "junction, °C", side: "left", min: 0, max: p.limit_c + 40 }]}
          lines={[
            {
              id: "junction",
              label: "junction",
              data: p.junction_curve_c,
              axis: "t",
              tone: 2,
              labelAt: 0.45,
              labelDy: -12,
            },
          ]}
          marks={[
            { y: p.limit_c, axis: "t", label: `limit ${p.limit_c} °C`, tone: "stop" },
            ...(p.working_a !== null ? [{ x: p.working_a, label: `working, junction ${p.junction_text}` }] : []),
          ]}
          points={p.working_a !== null && p.junction_c !== null ? [{ x: p.working_a, y: p.junction_c, axis: "t" }] : []}
          zones={p.allowed_a !== null ? [{ from: p.allowed_a, to: p.current_a.at(-1) ?? 0, label: "too hot" }] : []}
          words={`Junction temperature over motor current in ${p.air_c} °C air: ${p.junction_text} at work, limit ${p.limit_c} °C.`}
          readOff="Read off at a current"
          units={{ junction: "°C" }}
          height={260}
        />
      )}
      <ul className="losses" aria-label="What the heat is made of">
        {p.losses.map((l, i) => (
          <li key={l.label}>
            <span>{l.label}</span>
            <span className="loss-bar">
              <i
                className={`tone-${i + 1}`}
                style={{ width: `${total > 0 ? (100 * Math.max(l.watts, 0)) / total : 0}%` }}
              />
            </span>
            <span className="num">{l.text}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

import Button from "@mui/material/Button";
import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";
import { useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";
import type { PictureProps } from "@/shared/picture";
import { Drawing } from "./drawings";
import "./load.css";

type Gear = PictureOf<"load">["gears"][number];

/** The mechanisms to their numbers, one cycle of the duty, where the power goes, and what else would do. */
export default function LoadPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"load">;
  const back = p.strip_speed_rpm.some((v) => v < 0);
  return (
    <div className="load-picture">
      {p.mechanisms.map((m) => (
        <Drawing key={m.id} m={m} ratio={p.ratio_text} />
      ))}
      {p.strip_time_s.length > 0 ? (
        <Plot
          x={p.strip_time_s}
          xLabel="time, s"
          axes={[
            { id: "speed", label: "load, rpm", side: "left", min: Math.min(0, ...p.strip_speed_rpm) },
            { id: "current", label: "motor, A", side: "right", min: Math.min(0, ...p.strip_current_a) },
          ]}
          lines={[
            {
              id: "speed",
              label: back ? "speed" : p.speed_text,
              data: p.strip_speed_rpm,
              axis: "speed",
              tone: 1,
              labelAt: back ? 0.95 : 0.6,
              labelDy: back ? -8 : 18,
            },
            {
              id: "current",
              label: "current",
              data: p.strip_current_a,
              axis: "current",
              tone: 2,
              labelAt: 0,
              labelDy: -8,
            },
          ]}
          words={`One cycle: the load reaches ${p.speed_text}; it ${p.cycle_text}.`}
          height={210}
        />
      ) : (
        <p className="hint">Give the mechanism its numbers and a time to speed: the duty is drawn from them.</p>
      )}
      {p.strip_time_s.length > 0 && <p className="field-help">It {p.cycle_text}.</p>}
      {p.books.length > 0 && <Books books={p.books} />}
      {p.gears.length > 0 && <Gears gears={p.gears} motors={p.motors} />}
    </div>
  );
}

/** Where the power goes at work: one bar, shares side by side. */
function Books({ books }: { books: PictureOf<"load">["books"] }) {
  const sum = books.reduce((a, b) => a + b.watts, 0);
  return (
    <figure className="books" aria-label={books.map((b) => `${b.label} ${b.text}`).join(", ")}>
      <figcaption>Where the power goes, at work</figcaption>
      <div className="books-bar" aria-hidden="true">
        {books.map((b, i) => (
          <i key={b.label} className={`books-${i}`} style={{ width: `${(b.watts / sum) * 100}%` }} />
        ))}
      </div>
      <ul>
        {books.map((b, i) => (
          <li key={b.label}>
            <span className={`books-key books-${i}`} aria-hidden="true" /> {b.label} <b>{b.text}</b>
          </li>
        ))}
      </ul>
    </figure>
  );
}

/** The ratios that would do, and the motors of the shelf with their best one. */
function Gears({ gears, motors }: { gears: Gear[]; motors: Gear[] }) {
  const { draft } = useShell();
  const take = (gear: Gear) => draft.edit("Gear ratio", (build) => applyChanges(build, gear.changes));
  return (
    <div className="gears">
      <h3>Which gear, with this motor</h3>
      <GearTable rows={gears} onTake={take} />
      {motors.length > 0 && (
        <>
          <h3>Which motor of the shelf, with its best ratio</h3>
          <GearTable rows={motors} />
        </>
      )}
    </div>
  );
}

function GearTable({ rows, onTake }: { rows: Gear[]; onTake?: (gear: Gear) => void }) {
  return (
    <div className="scroll-x">
      <table className="grid-table gear-table">
        <thead>
          <tr>
            {!onTake && <th scope="col">Motor</th>}
            <th scope="col">Ratio</th>
            <th scope="col">Speed</th>
            <th scope="col">Start</th>
            <th scope="col">Heat</th>
            <th scope="col">Current</th>
            <th scope="col">{onTake ? <span className="unseen">Take it</span> : "Price"}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((g) => (
            <tr key={`${g.name}${g.ratio}`} className={g.does ? "" : "gear-no"}>
              {!onTake && <td>{g.name}</td>}
              <td>
                {g.does ? "✓ " : "✕ "}
                {g.ratio}
              </td>
              <td>{g.speed}</td>
              <td>{g.torque}</td>
              <td>{g.heat}</td>
              <td>{g.current}</td>
              <td>
                {!onTake ? (
                  g.text
                ) : g.chosen ? (
                  <b>taken</b>
                ) : (
                  <Button size="small" onClick={() => onTake(g)} aria-label={`Take ratio ${g.ratio}`}>
                    Take
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";
import { Pick, plain, Short } from "@/shared/asked";

type View = components["schemas"]["MovesView"];
type Row = components["schemas"]["MoveView"];
type Course = "step" | "ramp" | "s";
type Happens = "nothing" | "load" | "jam" | "hand";
type Shown = "place" | "duty_pct" | "current_a";

const COURSES = { step: "At once", ramp: "With a ramped speed", s: "Ramped, corners rounded" };
const HAPPENS = { nothing: "Nothing", load: "More load comes", jam: "It jams", hand: "A hand turns it" };
const SHOWN = { place: "Place, counts", duty_pct: "Duty, %", current_a: "Current, A" };
const TONES = [1, 2, 3, 4] as const;
const FIRST = ["All or nothing", "With the speed taken off (PD)", "Place over speed", "As the program moves it"];

/** A move of the output by several laws and by the program, one over the other, on the model of this drive. */
export function Moves() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [degrees, setDegrees] = useState("90");
  const [seconds, setSeconds] = useState("3");
  const [course, setCourse] = useState<Course>("step");
  const [happens, setHappens] = useState<Happens>("nothing");
  const [when, setWhen] = useState({ at: "1.5", for: "0.3", amount: "0.1" });
  const [delay, setDelay] = useState("0");
  const [limit, setLimit] = useState("");
  const [found, setFound] = useState<View | null>(null);
  const run = () =>
    attempt(async () => {
      if (!draft.draft) return;
      const body = {
        build: draft.draft,
        drive,
        degrees: plain(degrees, "the move in degrees of the output"),
        seconds: plain(seconds, "the time to look at in seconds"),
        course,
        delay_ms: plain(delay, "the computing delay in ms, 0 for none"),
        happens: happens === "nothing" ? null : happens,
        at_s: happens === "nothing" ? 0 : plain(when.at, "when it happens, in seconds"),
        for_s: happens === "nothing" ? 0 : plain(when.for, "how long it lasts, in seconds"),
        amount: happens === "load" || happens === "hand" ? plain(when.amount, "how much it is") : 0,
        limit_a: limit.trim() ? plain(limit, "the current in A, or nothing") : null,
      };
      setFound(await take(api.POST("/api/loop/moves", { body })));
    });
  return (
    <section className="loop-moves" aria-label="A move to a place">
      <h3>A move to a place</h3>
      <p className="field-help">
        By several laws, with gains from the model of this drive, and by the program itself: counted, sampled, with
        friction that sticks, play, a supply that gives way, and a duty that has its ends. Before any loop is closed: a
        direction test at low duty. A drive that runs away has its motor leads or its channels swapped.
      </p>
      <p className="button-row asked-row">
        <Short label="Output, degrees" value={degrees} onChange={setDegrees} />
        <Short label="Looked at, s" value={seconds} onChange={setSeconds} />
        <Pick label="Goes" choices={COURSES} value={course} onChoose={setCourse} />
        <Pick label="On the way" choices={HAPPENS} value={happens} onChoose={setHappens} />
        {happens !== "nothing" && (
          <>
            <Short label="At, s" value={when.at} onChange={(at) => setWhen({ ...when, at })} />
            <Short label="For, s" value={when.for} onChange={(text) => setWhen({ ...when, for: text })} />
            {happens !== "jam" && (
              <Short
                label={happens === "load" ? "Output, N·m more" : "Output, rpm"}
                value={when.amount}
                onChange={(amount) => setWhen({ ...when, amount })}
              />
            )}
          </>
        )}
        <Short label="Computing, ms" value={delay} onChange={setDelay} />
        <Short label="Driver holds, A" value={limit} onChange={setLimit} />
        <Button variant="contained" size="small" onClick={() => void run()}>
          Move
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && <Found view={found} pushed={happens !== "nothing"} ramped={course !== "step"} />}
    </section>
  );
}

function Found({ view, pushed, ramped }: { view: View; pushed: boolean; ramped: boolean }) {
  const [chosen, setChosen] = useState<string[]>(FIRST);
  const [shown, setShown] = useState<Shown>("place");
  const drawn = view.rows.filter((r) => chosen.includes(r.label)).slice(0, TONES.length);
  const toggle = (label: string) =>
    setChosen(chosen.includes(label) ? chosen.filter((x) => x !== label) : [...chosen, label]);
  return (
    <>
      <p className="button-row">
        <Pick label="Drawn" choices={SHOWN} value={shown} onChoose={setShown} />
      </p>
      <Plot
        x={view.time_s}
        xLabel="time, s"
        height={250}
        axes={[{ id: "p", label: SHOWN[shown].toLowerCase(), side: "left" }]}
        lines={drawn.map((row, i) => ({
          id: row.label,
          label: row.label,
          data: row[shown],
          axis: "p",
          tone: TONES[i] ?? 1,
          labelAt: 0.2 * (i + 1),
          labelDy: i % 2 ? 14 : -10,
        }))}
        marks={shown === "place" ? [{ y: view.target, axis: "p", label: "target", tone: "brass" as const }] : []}
        words={`${SHOWN[shown]} over time by ${drawn.length} laws; the target is ${view.target} counts.`}
        readOff="Read off at a time"
      />
      <div className="scroll">
        <table className="grid-table">
          <caption>
            To {view.target} counts, within {view.window}
            {ramped && `; the setpoint itself takes ${view.setpoint_s.toPrecision(3)} s`}
          </caption>
          <thead>
            <tr>
              <th scope="col">Law (up to four are drawn)</th>
              {["beyond", "there after, s", "hunts by", "ends off by"].map((h) => (
                <th key={h} scope="col" className="num">
                  {h}
                </th>
              ))}
              {pushed && (
                <th scope="col" className="num">
                  pushed off by
                </th>
              )}
              {ramped && (
                <th scope="col" className="num">
                  lags by
                </th>
              )}
              <th scope="col" className="num">
                peak, A
              </th>
              <th scope="col" className="num">
                energy, J
              </th>
            </tr>
          </thead>
          <tbody>
            {view.rows.map((row) => (
              <Law
                key={row.label}
                row={row}
                drawn={drawn.includes(row)}
                full={drawn.length >= TONES.length}
                pushed={pushed}
                ramped={ramped}
                onToggle={() => toggle(row.label)}
              />
            ))}
          </tbody>
        </table>
      </div>
      <ul className="plain-list field-help">
        {view.said.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </>
  );
}

const count = (x: number) => x.toFixed(0).replace(/^-0$/, "0").replace("-", "−");

function Law({
  row,
  drawn,
  full,
  pushed,
  ramped,
  onToggle,
}: {
  row: Row;
  drawn: boolean;
  full: boolean;
  pushed: boolean;
  ramped: boolean;
  onToggle: () => void;
}) {
  return (
    <tr>
      <th scope="row">
        <label className="law">
          <Checkbox size="small" checked={drawn} disabled={!drawn && full} onChange={onToggle} />
          {row.label}
        </label>
      </th>
      <td className="num">
        {count(row.overshoot)}
        {row.overshoot > 0.5 && ` (${row.overshoot_deg.toPrecision(2)}°)`}
      </td>
      <td className="num">{row.settled_s?.toPrecision(3) ?? "never"}</td>
      <td className="num">{row.hunting ? count(row.hunting) : "no"}</td>
      <td className="num">{count(row.rest_error)}</td>
      {pushed && <td className="num">{count(row.pushed)}</td>}
      {ramped && <td className="num">{row.lag === null ? "–" : count(row.lag)}</td>}
      <td className="num">{row.peak_a.toPrecision(3)}</td>
      <td className="num">{row.energy_j.toPrecision(3)}</td>
    </tr>
  );
}

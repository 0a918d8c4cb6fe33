import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";

type View = components["schemas"]["MovesView"];
const TONES = [1, 2, 3, 4, 1] as const;

/** A move of the output by several laws, one over the other, on the model of this drive. */
export function Moves() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [degrees, setDegrees] = useState("90");
  const [seconds, setSeconds] = useState("3");
  const [found, setFound] = useState<View | null>(null);
  const run = () =>
    attempt(async () => {
      if (!draft.draft) return;
      const [angle, time] = [Number(degrees.replace("−", "-")), Number(seconds)];
      if (!Number.isFinite(angle) || !degrees.trim()) throw new Error("Give the move in degrees of the output.");
      if (!Number.isFinite(time) || !seconds.trim()) throw new Error("Give the time to look at in seconds.");
      setFound(
        await take(api.POST("/api/loop/moves", { body: { build: draft.draft, drive, degrees: angle, seconds: time } })),
      );
    });
  const time = found?.rows[0]?.time_s ?? [];
  return (
    <section className="loop-moves" aria-label="A move to a place">
      <h3>A move to a place, by five laws</h3>
      <p className="field-help">
        Gains from the model of this drive; counted, sampled, with friction that sticks and a duty that has its ends.
        Before any loop is closed: a direction test at low duty. A drive that runs away has its motor leads or its
        channels swapped.
      </p>
      <p className="button-row">
        <TextField
          size="small"
          label="Output, degrees"
          value={degrees}
          onChange={(e) => setDegrees(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <TextField
          size="small"
          label="Looked at, s"
          value={seconds}
          onChange={(e) => setSeconds(e.target.value)}
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
        />
        <Button variant="contained" size="small" onClick={() => void run()}>
          Move
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && (
        <>
          <Plot
            x={time}
            xLabel="time, s"
            height={240}
            axes={[{ id: "p", label: "place, counts", side: "left" }]}
            lines={found.rows.map((row, i) => ({
              id: row.way,
              label: row.label,
              data: row.place,
              axis: "p",
              tone: TONES[i] ?? 1,
              labelAt: 0.16 * (i + 1),
              labelDy: i % 2 ? 14 : -10,
            }))}
            marks={[{ y: found.target, axis: "p", label: "target", tone: "brass" as const }]}
            words={`Place over time by five laws; the target is ${found.target} counts.`}
            readOff="Read off at a time"
          />
          <div className="scroll">
            <table className="grid-table">
              <caption>
                To {found.target} counts, within {found.window}
              </caption>
              <thead>
                <tr>
                  <th scope="col">Law</th>
                  <th scope="col" className="num">
                    beyond, counts
                  </th>
                  <th scope="col" className="num">
                    there after, s
                  </th>
                  <th scope="col" className="num">
                    hunts by
                  </th>
                  <th scope="col" className="num">
                    peak, A
                  </th>
                  <th scope="col" className="num">
                    energy, J
                  </th>
                </tr>
              </thead>
              <tbody>
                {found.rows.map((row) => (
                  <tr key={row.way}>
                    <th scope="row">{row.label}</th>
                    <td className="num">{row.overshoot.toFixed(0)}</td>
                    <td className="num">{row.settled_s?.toPrecision(3) ?? "never"}</td>
                    <td className="num">{row.hunting ? row.hunting.toFixed(0) : "no"}</td>
                    <td className="num">{row.peak_a.toPrecision(3)}</td>
                    <td className="num">{row.energy_j.toPrecision(3)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="field-help">{found.said}</p>
        </>
      )}
    </section>
  );
}

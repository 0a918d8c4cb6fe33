import Button from "@mui/material/Button";
import { useId, useState } from "react";
import { api, take, transfer, type PictureOf } from "../../api/client";
import type { components } from "@/../generated/schema";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveFile } from "@/shared/files";
import { Plot } from "@/shared/Plot";
import { useShell } from "../../shell/context";

type Ask = components["schemas"]["AskRun"];
type Run = components["schemas"]["RunView"];

/** A run of the drive in time: motor, bridge, supply and load simulated, with what one would measure on it. */
export function Simulation({ scenarios }: { scenarios: PictureOf<"signals">["scenarios"] }) {
  const { draft, drive } = useShell();
  const id = useId();
  const [scenario, setScenario] = useState<Ask["scenario"]>("start");
  const [averaged, setAveraged] = useState(true);
  const [run, setRun] = useState<Run | null>(null);
  const [busy, setBusy] = useState(false);
  const { problem, attempt } = useAttempt();
  const body = (): Ask | null => (draft.draft ? { build: draft.draft, drive, scenario, averaged } : null);
  const simulate = () =>
    attempt(async () => {
      const asked = body();
      if (!asked) return;
      setBusy(true);
      setRun(null);
      try {
        setRun(await take(api.POST("/api/stage/simulate", { body: asked })));
      } finally {
        setBusy(false);
      }
    });
  const give = () =>
    attempt(async () => {
      const response = await transfer("/api/stage/simulate/file", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(body()),
      });
      saveFile("run.csv", await response.text(), "text/csv");
    });
  return (
    <section className="simulation" aria-label="Simulation">
      <h3>What it does in time</h3>
      <p className="button-row">
        <label htmlFor={id}>Scenario</label>
        <select
          id={id}
          className="field-choice"
          value={scenario}
          onChange={(e) => setScenario(e.target.value as Ask["scenario"])}
        >
          {scenarios.map((s) => (
            <option key={s.value} value={s.value}>
              {s.label}
            </option>
          ))}
        </select>
        <label>
          <input type="checkbox" checked={!averaged} onChange={(e) => setAveraged(!e.target.checked)} /> every pulse
        </label>
        <Button variant="outlined" size="small" disabled={busy} onClick={() => void simulate()}>
          {busy ? "Running …" : "Run"}
        </Button>
        {run && (
          <Button size="small" onClick={() => void give()}>
            Export CSV
          </Button>
        )}
      </p>
      <Problem>{problem}</Problem>
      {run && (
        <>
          <Plot
            x={run.time_s}
            xLabel="time, s"
            axes={[
              { id: "a", label: "motor current, A", side: "left" },
              { id: "n", label: "speed, rpm", side: "right" },
            ]}
            lines={[
              { id: "high", label: "current, highest", data: run.current_high_a, axis: "a", tone: 1, labelAt: 0.12 },
              ...(averaged
                ? []
                : [
                    {
                      id: "low",
                      label: "lowest",
                      data: run.current_low_a,
                      axis: "a",
                      tone: 3 as const,
                      labelAt: 0.6,
                      labelDy: 14,
                    },
                  ]),
              { id: "speed", label: "speed", data: run.speed_rpm, axis: "n", tone: 2, labelAt: 0.8 },
            ]}
            words={`Current and speed over time: ${run.measured.map((f) => `${f.name} ${f.text}`).join(", ")}.`}
            readOff="Read off at a time"
            units={{ high: "A", low: "A", speed: "rpm" }}
            height={260}
          />
          <dl className="run-figures">
            {run.measured.map((f) => (
              <div key={f.name}>
                <dt>{f.name}</dt>
                <dd className="num">{f.text}</dd>
              </div>
            ))}
          </dl>
          {run.events.length > 0 && <p className="field-help">{run.events.join("; ")}.</p>}
          <p className="field-help">{run.notes.join(" ")}</p>
        </>
      )}
    </section>
  );
}

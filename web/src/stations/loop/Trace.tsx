import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take, transfer } from "@/api/client";
import type { components } from "@/../generated/schema";
import { FilePicker } from "@/shared/FilePicker";
import { KeepFile } from "@/shared/KeepFile";
import { Plot } from "@/shared/Plot";
import { Says } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";

type View = components["schemas"]["TraceView"];
type Gains = components["schemas"]["GainsView"];

/** A record of the real loop, beside what the design foretells for it; gains out of it. */
export function Trace() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [found, setFound] = useState<View | null>(null);
  const [file, setFile] = useState<{ blob: Blob; name: string } | null>(null);
  const look = (text: string, name: string) =>
    attempt(async () => {
      if (!draft.draft) return;
      setFound(null);
      setFile({ blob: new Blob([text], { type: "text/plain" }), name });
      setFound(await take(api.POST("/api/loop/trace", { body: { build: draft.draft, drive, text } })));
    });
  const example = () =>
    attempt(async () =>
      look(await (await transfer("/api/loop/trace/example", { method: "GET" })).text(), "heavier carousel.txt"),
    );
  return (
    <section className="loop-moves" aria-label="A record of the real loop">
      <h3>A record of the real loop</h3>
      <p className="field-help">
        At the board’s port: <code>report 10</code>, then <code>duty 1 0</code>, <code>duty 1 300</code>,{" "}
        <code>duty 1 600</code>, each until the speed stands (with your drive’s number); save what came back as a text
        file. Or to and fro between two duties by hand as the speed passes a mark: that is a relay test. A table with
        time, duty and speed or counts does as well.
      </p>
      <p className="button-row">
        <FilePicker
          size="small"
          label="Record of the loop"
          accept=".txt,.log,.csv,.tsv"
          onPick={(picked) => void picked.text().then((text) => look(text, picked.name))}
        >
          Look at a record …
        </FilePicker>
        <Button size="small" onClick={() => void example()}>
          Try one of a heavier carousel
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && <Looked view={found} />}
      {found && file && <KeepFile file={file.blob} name={file.name} says={`Loop: ${found.says.join(" ")}`} />}
    </section>
  );
}

function Looked({ view }: { view: View }) {
  return (
    <>
      <Says lines={view.says} />
      <Plot
        x={view.time_s}
        xLabel="time, s"
        height={230}
        axes={[
          { id: "n", label: "motor, rpm", side: "left" },
          { id: "d", label: "duty, %", side: "right" },
        ]}
        lines={[
          { id: "speed", label: "recorded", data: view.speed_rpm, axis: "n", tone: 1, labelAt: 0.4, labelDy: -10 },
          ...(view.foretold_rpm.length > 0
            ? [
                {
                  id: "foretold",
                  label: "as designed",
                  data: view.foretold_rpm,
                  axis: "n",
                  tone: 2 as const,
                  labelAt: 0.62,
                  labelDy: -10,
                },
              ]
            : []),
          { id: "duty", label: "duty", data: view.duty_pct, axis: "d", tone: 3, step: true, labelAt: 0.9, labelDy: 14 },
        ]}
        words={`Speed and duty as recorded (${view.source}), and the speed that the design foretells for that duty.`}
        readOff="Read off at a time"
        units={{ speed: "rpm", foretold: "rpm", duty: "%" }}
      />
      {view.gains.map((g) => (
        <Suggested key={g.rule} gains={g} />
      ))}
    </>
  );
}

function Suggested({ gains }: { gains: Gains }) {
  const { draft } = useShell();
  const use = () => draft.edit(`Gains ${gains.rule}`, (build) => applyChanges(build, gains.changes));
  return (
    <p className="button-row">
      <span>
        Gains {gains.rule}: <span className="num">{gains.gain_pct_per_rpm.toPrecision(3)} %/rpm</span>
        {gains.integral_ms !== null && <span className="num">, {gains.integral_ms.toPrecision(3)} ms</span>}
        {gains.types && (
          <>
            . To try them at the port: <code>{gains.types}</code>
          </>
        )}
      </span>
      <Button size="small" variant="outlined" onClick={use}>
        Take these gains
      </Button>
    </p>
  );
}

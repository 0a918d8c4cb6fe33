import Button from "@mui/material/Button";
import { useState } from "react";
import { transfer } from "@/api/client";
import type { components } from "@/../generated/schema";
import { FilePicker } from "@/shared/FilePicker";
import { Plot } from "@/shared/Plot";
import { Problem, useAttempt } from "@/shared/attempt";

type View = components["schemas"]["EncoderCapture"];
type Choice = { a: number; b: number; index: number };
const FIRST: Choice = { a: -1, b: -1, index: -1 };

/** A capture of both channels, looked at: what the disc really does, beside what the design expects. */
export function Capture({ teeth }: { teeth: number }) {
  const { problem, attempt } = useAttempt();
  const [file, setFile] = useState<Blob | null>(null);
  const [of, setOf] = useState(teeth);
  const [found, setFound] = useState<View | null>(null);
  const look = (blob: Blob, choice: Choice, count: number) =>
    attempt(async () => {
      setFile(blob);
      setOf(count);
      const asked = new URLSearchParams({
        a: String(choice.a),
        b: String(choice.b),
        index: String(choice.index),
        teeth: String(count),
      });
      const got = await transfer(`/api/encoder/capture?${asked}`, {
        method: "POST",
        body: blob,
        headers: { "content-type": "text/csv" },
      });
      setFound((await got.json()) as View);
    });
  const example = () =>
    attempt(async () => {
      const got = await transfer("/api/encoder/example", { method: "GET" });
      const count = Number(got.headers.get("x-teeth"));
      await look(await got.blob(), FIRST, count);
    });
  return (
    <section className="encoder-capture" aria-label="A capture">
      <h3>A capture of both channels</h3>
      <p className="field-help">
        Record A and B while you turn the shaft, a third channel that comes once a turn if you have one, and give the
        file: CSV of any instrument, or VCD. It is looked at here and not kept.
      </p>
      <p className="button-row">
        <FilePicker
          size="small"
          label="Capture of the encoder"
          accept=".csv,.txt,.tsv,.vcd"
          onPick={(picked) => void look(picked, FIRST, teeth)}
        >
          Look at a capture …
        </FilePicker>
        <Button size="small" onClick={() => void example()}>
          Try one with two faults
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && file && (
        <>
          <Columns found={found} onChoose={(choice) => void look(file, choice, of)} />
          <div role="status">
            <ul className="plain-list capture-says">
              {found.says.map((s) => (
                <li key={s}>{s}</li>
              ))}
            </ul>
          </div>
          <dl className="capture-figures">
            {found.figures.map((f, i) => (
              <div key={i}>
                <dt>{f.name}</dt>
                <dd className="num">{f.text}</dd>
              </div>
            ))}
          </dl>
          {found.phases.length > 3 && (
            <Plot
              x={found.phases.map((_, i) => i + 1)}
              xLabel="period of A, one after the other"
              height={170}
              axes={[{ id: "p", label: "phase, °", side: "left", min: 0, max: 180 }]}
              lines={[{ id: "p", label: "phase", data: found.phases, axis: "p", tone: 1, labelAt: 0.5, labelDy: -10 }]}
              words="Phase of each period: 90° is ideal; a tooth that is cut wrong comes again every turn."
              readOff="Read off at a period"
              units={{ p: "°" }}
            />
          )}
        </>
      )}
    </section>
  );
}

function Columns({ found, onChoose }: { found: View; onChoose: (choice: Choice) => void }) {
  const now = { a: found.a, b: found.b, index: found.index };
  return (
    <p className="button-row">
      {(["a", "b", "index"] as const).map((role) => (
        <label key={role}>
          {role === "index" ? "Once a turn" : `Channel ${role.toUpperCase()}`}{" "}
          <select
            value={now[role]}
            onChange={(e) => onChoose({ ...now, [role]: Number(e.target.value) })}
            aria-label={role === "index" ? "Once a turn" : `Channel ${role.toUpperCase()}`}
          >
            {role === "index" && <option value={-1}>none</option>}
            {found.signals.map((name, i) => (
              <option key={i} value={i}>
                {name || `column ${i + 1}`}
              </option>
            ))}
          </select>
        </label>
      ))}
    </p>
  );
}

import Button from "@mui/material/Button";
import { useState } from "react";
import { transfer } from "@/api/client";
import type { components } from "@/../generated/schema";
import { FilePicker } from "@/shared/FilePicker";
import { KeepFile } from "@/shared/KeepFile";
import { Plot } from "@/shared/Plot";
import { Says, ToldFigures } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";

type View = components["schemas"]["EncoderCapture"];
type Choice = { a: number; b: number; index: number };
const FIRST: Choice = { a: -1, b: -1, index: -1 };

/** A capture of the channels, looked at: what the disc really does, beside what the design expects. */
export function Capture({ teeth }: { teeth: number }) {
  const { problem, attempt } = useAttempt();
  const [file, setFile] = useState<Blob | null>(null);
  const [name, setName] = useState("");
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
      setName("two faults.csv");
      await look(await got.blob(), FIRST, count);
    });
  return (
    <section className="encoder-capture" aria-label="A capture">
      <h3>A capture of the channels</h3>
      <p className="field-help">
        Record A and B (or the one that there is) while you turn the shaft, and a channel that comes once a turn if you
        have one; give the file: CSV of any instrument, or VCD. It is kept only if you say so.
      </p>
      <p className="button-row">
        <FilePicker
          size="small"
          label="Capture of the encoder"
          accept=".csv,.txt,.tsv,.vcd"
          onPick={(picked) => {
            setName(picked.name);
            void look(picked, FIRST, teeth);
          }}
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
          <Says lines={found.says} />
          <ToldFigures rows={found.figures.map((f) => [f.name, f.text] as const)} />
          <KeepFile file={file} name={name} says={`Encoder: ${found.says.join(" ")}`} />
          {found.phases.length > 3 && (
            <Plot
              x={found.phases.map((_, i) => i + 1)}
              xLabel="period of A, one after the other"
              height={170}
              axes={[
                {
                  id: "p",
                  label: found.single ? "high, °" : "phase, °",
                  side: "left",
                  min: 0,
                  max: found.single ? 360 : 180,
                },
              ]}
              lines={[
                {
                  id: "p",
                  label: found.single ? "high" : "phase",
                  data: found.phases,
                  axis: "p",
                  tone: 1,
                  labelAt: 0.5,
                  labelDy: -10,
                },
              ]}
              words={
                found.single
                  ? "How long each period is high; a tooth that is cut wrong comes again every turn."
                  : "Phase of each period: 90° is ideal; a tooth that is cut wrong comes again every turn."
              }
              readOff="Read off at a period"
              units={{ p: "°" }}
            />
          )}
          {found.time_s.length > 3 && (
            <Plot
              x={found.time_s}
              xLabel="time, s"
              height={170}
              axes={[
                { id: "c", label: "counts", side: "left" },
                { id: "v", label: "counts a second", side: "right" },
              ]}
              lines={[
                { id: "c", label: "count", data: found.position, axis: "c", tone: 1, labelAt: 0.3, labelDy: -10 },
                { id: "v", label: "speed", data: found.per_s, axis: "v", tone: 2, labelAt: 0.8, labelDy: -10 },
              ]}
              words="What was counted, and how fast, over time."
              readOff="Read off at a time"
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
            {role === "b" && <option value={-2}>none: one sensor alone</option>}
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

import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "@/api/client";
import { useShell } from "@/draft/context";
import { OneOf } from "@/shared/OneOf";
import { Problem, useAttempt } from "@/shared/attempt";
import { FaultPlace } from "./FaultPlace";
import "./faults.css";

type Suspect = Schemas["SuspectView"];
type Next = Schemas["NextTestView"];
export type Answers = Record<string, boolean>;
export type Texts = Record<string, string>;

type Props = {
  readings: Texts;
  onReadings: (next: Texts) => void;
  answers: Answers;
  onAnswers: (next: Answers) => void;
};

function without<T>(of: Record<string, T>, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(of).filter(([k]) => k !== key));
}

/** What could be wrong: symptoms and readings in, suspects with their reasons and the next best test out. */
export function FaultFinder({ readings, onReadings, answers, onAnswers }: Props) {
  const { draft, drive } = useShell();
  const [still, setStill] = useState(false);
  const { draft: build, id } = draft;
  const asked = useQuery({
    queryKey: ["faults", id, drive, build, readings, answers, still],
    queryFn: ({ signal }) => {
      const body = { build: build!, drive, build_id: id, readings, symptoms: answers, still };
      return take(api.POST("/api/faults", { body, signal }));
    },
    enabled: build !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const found = asked.data;
  if (asked.error) return <Problem>{asked.error.message}</Problem>;
  if (!found) return <p className="picture-wait">Working out what each fault would read …</p>;
  const read = (step: string, text: string | null) => {
    const others = without(readings, step);
    onReadings(text === null ? others : { ...others, [step]: text });
  };
  return (
    <div className="faults">
      <section aria-label="What is seen">
        <h3>What is seen, heard or smelt</h3>
        <p className="field-help">Told to run forward, nothing on the shaft. Leave open what you do not know.</p>
        <ul className="faults-seen">
          {found.symptoms.map((s) => (
            <li key={s.id}>
              <span>{s.question}</span>
              <OneOf
                label={s.question}
                value={s.answer === null ? "open" : s.answer ? "yes" : "no"}
                choices={[
                  { key: "yes", label: "Yes" },
                  { key: "no", label: "No" },
                  { key: "open", label: "Open" },
                ]}
                onChoose={(key) => {
                  const others = without(answers, s.id);
                  onAnswers(key === "open" ? others : { ...others, [s.id]: key === "yes" });
                }}
              />
            </li>
          ))}
        </ul>
        <h3>Readings that count</h3>
        {found.taken.length === 0 && <p className="field-help">None yet: give one below, or on the test sheet.</p>}
        <ul className="faults-read">
          {found.taken.map((t) => (
            <li key={t.step}>
              <span>
                {t.title}: <b>{t.text}</b> {t.from_log && <i>from the log</i>}
              </span>
              <Button
                size="small"
                onClick={() => read(t.step, t.from_log ? "" : null)}
                aria-label={`Leave out ${t.title}`}
              >
                Leave out
              </Button>
              {t.error && <Problem>{t.error}</Problem>}
            </li>
          ))}
        </ul>
        {found.passed.length > 0 && (
          <FormControlLabel
            control={<Checkbox size="small" checked={still} onChange={(e) => setStill(e.target.checked)} />}
            label={`Count the ${found.passed.length} that passed before too: the fault is not younger than they`}
          />
        )}
        {Object.values(readings).includes("") && (
          <Button
            size="small"
            onClick={() => onReadings(Object.fromEntries(Object.entries(readings).filter(([, text]) => text !== "")))}
          >
            Take those left out in again
          </Button>
        )}
      </section>
      <section aria-label="Suspects">
        {found.says.map((s) => (
          <p key={s} className="step-caution">
            {s}
          </p>
        ))}
        <h3>Suspects</h3>
        <ol className="faults-suspects">
          {found.suspects.map((s) => (
            <SuspectLine key={s.id} suspect={s} />
          ))}
        </ol>
        <h3>Measure next</h3>
        {found.tests.slice(0, 4).map((t, i) => (
          <TestCard key={t.step} test={t} best={i === 0} onRead={(text) => read(t.step, text)} />
        ))}
      </section>
    </div>
  );
}

/** A probability as a bar and in words; below one in a hundred it is not a number any more. */
function share(percent: number) {
  return percent < 1 ? "< 1 %" : percent > 99 ? "> 99 %" : `${percent.toFixed(0)} %`;
}

function SuspectLine({ suspect }: { suspect: Suspect }) {
  const { draft, say } = useShell();
  const { problem, attempt } = useAttempt();
  const [place, setPlace] = useState("");
  const name = suspect.names.join(", or: ");
  const found = () =>
    attempt(async () => {
      const path = { build_id: draft.id };
      const text = `Found: ${name}. ${suspect.reasons.join("; ")}. Repeat: ${suspect.again.join(", ") || "the test sheet"}.`;
      const details = { cause: name, mend: "", undo: "" };
      const body = { topic: "failure" as const, text: text.slice(0, 1000), details };
      await take(api.POST("/api/builds/{build_id}/log", { params: { path }, body }));
      say("The failure is in the log, with what to repeat.");
    });
  return (
    <li>
      <details>
        <summary>
          <span className="faults-share" style={{ "--share": `${suspect.percent}%` } as React.CSSProperties}>
            {share(suspect.percent)}
          </span>
          <span>
            {suspect.names.map((n, i) => (
              <span key={n}>
                {i > 0 && <i> or: </i>}
                {n}
              </span>
            ))}
            {suspect.names.length > 1 && <i className="field-help"> No test of this sheet tells them apart.</i>}
          </span>
        </summary>
        <ul>
          {suspect.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
        {suspect.mends.map((m) => (
          <p key={m}>
            <b>Mend:</b> {m}
          </p>
        ))}
        {suspect.again.length > 0 && <p>Then measure again: {suspect.again.join(", ")}.</p>}
        {suspect.sits.map((cause) =>
          place === cause.id ? (
            <FaultPlace key={cause.id} cause={cause.id} />
          ) : (
            <Button key={cause.id} size="small" onClick={() => setPlace(cause.id)}>
              Find the place by a meter{suspect.sits.length > 1 && `: ${cause.name}`}
            </Button>
          ),
        )}
        <Button size="small" variant="outlined" onClick={() => void found()}>
          It was this: into the log
        </Button>
        <Problem>{problem}</Problem>
      </details>
    </li>
  );
}

function TestCard({ test, best, onRead }: { test: Next; best: boolean; onRead: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <section className={`faults-test${best ? " faults-best" : ""}`} aria-label={test.title}>
      <h4>
        {test.title}{" "}
        <i>
          {test.minutes} min · {test.stage}
        </i>
      </h4>
      {test.caution && <p className="step-caution">{test.caution}</p>}
      <p>
        {test.where}. {test.instrument}: {test.setting}.
      </p>
      <ul className="faults-tells">
        {test.tells.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
      <form
        className="step-skip"
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim()) onRead(text.trim());
        }}
      >
        <label htmlFor={`fault-${test.step}`}>It reads ({test.unit}; OL for over range)</label>
        <input id={`fault-${test.step}`} value={text} autoComplete="off" onChange={(e) => setText(e.target.value)} />
        <Button type="submit" size="small" disabled={!text.trim()}>
          Count it
        </Button>
      </form>
    </section>
  );
}

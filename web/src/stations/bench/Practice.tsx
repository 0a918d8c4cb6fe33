import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "@/api/client";
import { useShell } from "@/draft/context";
import { OneOf } from "@/shared/OneOf";
import { Problem } from "@/shared/attempt";
import { anyNumber } from "./chance";
import "./faults.css";

type Level = Schemas["AskPractice"]["level"];

const LEVELS = [
  { key: "first", label: "First" },
  { key: "usual", label: "Usual" },
  { key: "hard", label: "Hard" },
] as const;

/** A hidden fault in this very build: measure, decide, and see what fewer tests would have done. */
export function Practice() {
  const { draft, drive } = useShell();
  const [level, setLevel] = useState<Level>("first");
  const [asked, setAsked] = useState({ number: anyNumber(), done: [] as string[], guess: "" });
  const [choice, setChoice] = useState("");
  const build = draft.draft;
  const answer = useQuery({
    queryKey: ["practice", drive, build, level, asked],
    queryFn: ({ signal }) =>
      take(api.POST("/api/faults/practice", { body: { build: build!, drive, level, ...asked }, signal })),
    enabled: build !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const found = answer.data;
  const anew = (next: Level = level) => {
    setLevel(next);
    setAsked({ number: anyNumber(), done: [], guess: "" });
    setChoice("");
  };
  if (answer.error) return <Problem>{answer.error.message}</Problem>;
  if (!found) return <p className="picture-wait">Breaking something …</p>;
  const over = found.judged;
  return (
    <div className="faults">
      <section aria-label="The patient">
        <p className="button-row no-print">
          <OneOf label="How hard" value={level} choices={LEVELS} onChoose={anew} />
          <Button size="small" variant="outlined" onClick={() => anew()}>
            Another fault
          </Button>
        </p>
        <p className="field-help">
          Something is wrong with a copy of this build that exists in the sum alone. Number {asked.number}: the same
          number is the same fault.
        </p>
        <h3>What is seen</h3>
        <ul className="faults-seen">
          {found.symptoms
            .filter((s) => s.answer)
            .map((s) => (
              <li key={s.id}>{s.question}</li>
            ))}
          {!found.symptoms.some((s) => s.answer) && <li>Nothing beside the usual: a test of the sheet fails.</li>}
        </ul>
        <h3>What was read</h3>
        {found.read.length === 0 && <p className="field-help">Nothing yet.</p>}
        <ul className="faults-read">
          {found.read.map((t) => (
            <li key={t.step}>
              <span>
                {t.title}: <b>{t.text}</b>
              </span>
            </li>
          ))}
        </ul>
        <form
          className="faults-guess"
          onSubmit={(e) => {
            e.preventDefault();
            if (choice) setAsked({ ...asked, guess: choice });
          }}
        >
          <label htmlFor="guess">It is</label>
          <select id="guess" value={choice} disabled={over !== null} onChange={(e) => setChoice(e.target.value)}>
            <option value="">choose when you are sure</option>
            {found.guesses.map((g) => (
              <option key={g.id} value={g.id}>
                {g.names.join(", or: ")}
              </option>
            ))}
          </select>
          <Button type="submit" variant="contained" disabled={!choice || over !== null}>
            Decide
          </Button>
        </form>
        {over && (
          <div className="faults-judged" role="status">
            <p className={`step-said verdict-${over.right ? "pass" : "fail"}`}>
              {over.right ? `✓ Right: ${over.points} of 100.` : "✕ No."} It is: {over.cause.join(", or: ")}.
            </p>
            <p>
              {found.read.length} {found.read.length === 1 ? "test" : "tests"}, about {over.minutes} min
              {over.risks > 0 && `, ${over.risks} of them under power while a short was still likely`}.
            </p>
            {over.way.length > 0 && (
              <>
                <p>Those that tell most for their price, in turn:</p>
                <ol>
                  {over.way.map((w) => (
                    <li key={w}>{w}</li>
                  ))}
                </ol>
              </>
            )}
            {over.mends.map((m) => (
              <p key={m}>
                <b>Mend:</b> {m}
              </p>
            ))}
          </div>
        )}
      </section>
      <section aria-label="Tests to choose from">
        <h3>Measure</h3>
        <ul className="faults-choices">
          {found.tests.map((t, i) => (
            <li key={t.step}>
              {t.stage !== found.tests[i - 1]?.stage && <p className="bench-stage">{t.stage}</p>}
              <Button
                size="small"
                disabled={over !== null}
                onClick={() => setAsked({ ...asked, done: [...asked.done, t.step] })}
              >
                {t.title}
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

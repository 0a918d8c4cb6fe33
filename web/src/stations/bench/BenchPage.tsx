import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take, type PictureOf } from "@/api/client";
import { useShell } from "@/draft/context";
import type { PictureProps } from "@/shared/picture";
import "./bench.css";

type Step = PictureOf<"bench">["steps"][number];

function markOf(step: Step): string {
  if (!step.reading) return "open";
  if (step.stale.length > 0) return "stale";
  return step.verdict;
}

const MARKS: Record<string, string> = { open: "to do", stale: "stale", pass: "✓ pass", fail: "✕ fail" };

/** The test sheet, one step at a time, with a big field for the reading. */
export default function BenchPage({ picture }: PictureProps) {
  const { steps, passed } = picture as PictureOf<"bench">;
  const firstOpen = steps.findIndex((s) => markOf(s) !== "pass");
  const [at, setAt] = useState(Math.max(firstOpen, 0));
  const step = steps[at];
  return (
    <div className="bench">
      <p className="bench-count">
        {passed} of {steps.length} steps pass
      </p>
      <ol className="bench-steps" aria-label="Test sheet">
        {steps.map((s, i) => (
          <li key={s.id}>
            <button type="button" aria-current={i === at ? "step" : undefined} onClick={() => setAt(i)}>
              <span className="key">{i + 1}</span>
              <span>{s.title}</span>
              <span className={`verdict verdict-${markOf(s)}`}>{MARKS[markOf(s)]}</span>
            </button>
          </li>
        ))}
      </ol>
      {step && (
        <StepForm
          key={step.id}
          step={step}
          number={at + 1}
          onNext={() => setAt((n) => Math.min(n + 1, steps.length - 1))}
          last={at === steps.length - 1}
        />
      )}
    </div>
  );
}

function StepForm({ step, number, onNext, last }: { step: Step; number: number; onNext: () => void; last: boolean }) {
  const { draft, drive, openWorking } = useShell();
  const [text, setText] = useState("");
  const [said, setSaid] = useState({ words: "", verdict: "" });
  const [busy, setBusy] = useState(false);
  const keep = async () => {
    setBusy(true);
    try {
      if (!(await draft.write())) throw new Error("The build could not be saved first, so the reading was not taken.");
      const done = await take(
        api.POST("/api/builds/{build_id}/readings", {
          params: { path: { build_id: draft.id } },
          body: { drive, step: step.id, text, note: "" },
        }),
      );
      setSaid({ words: done.sentence, verdict: done.verdict });
      setText("");
      draft.refresh();
    } catch (error) {
      setSaid({ words: (error as Error).message, verdict: "refused" });
    }
    setBusy(false);
  };
  const mark = markOf(step);
  return (
    <section className="step" aria-label={step.title}>
      <h3>
        <span className="key">{number}</span> {step.title}
      </h3>
      {step.caution && <p className="step-caution">{step.caution}</p>}
      <dl>
        <div>
          <dt>Where</dt>
          <dd>{step.where}</dd>
        </div>
        <div>
          <dt>{step.instrument}</dt>
          <dd>{step.setting}</dd>
        </div>
        <div>
          <dt>Expect</dt>
          <dd>
            {step.expected.number ? (
              <>
                {step.expected.id ? (
                  <button type="button" className="link step-expected" onClick={() => openWorking(step.expected.id)}>
                    {step.expected.number} {step.expected.unit}
                  </button>
                ) : (
                  <b className="step-expected">
                    {step.expected.number} {step.expected.unit}
                  </b>
                )}{" "}
                between {step.low} and {step.high}: {step.reason}
              </>
            ) : (
              step.expected.reason
            )}
          </dd>
        </div>
      </dl>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (text.trim()) void keep();
        }}
      >
        <label htmlFor="reading">Reading</label>
        <span className="step-box">
          <input
            id="reading"
            value={text}
            inputMode="decimal"
            autoComplete="off"
            onChange={(e) => setText(e.target.value)}
          />
          <i>{step.unit}</i>
          <Button type="submit" variant="contained" disabled={busy || !text.trim()}>
            Keep
          </Button>
        </span>
      </form>
      <p className={`step-said verdict-${said.verdict}`} role="status">
        {said.words && `${said.verdict === "pass" ? "✓ " : said.verdict ? "✕ " : ""}${said.words}`}
      </p>
      {step.reading && (
        <p className="field-help">
          Last reading {step.reading}, {MARKS[step.verdict] ?? step.verdict},{" "}
          {new Date(step.taken_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}.
          {mark === "stale" && (
            <b className="field-stale"> Stale: {step.stale.join(", ")} changed since. Measure again.</b>
          )}
        </p>
      )}
      {!last && <Button onClick={onNext}>Next step</Button>}
    </section>
  );
}

import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { OneOf } from "@/shared/OneOf";
import { Problem, useAttempt } from "@/shared/attempt";
import "./first.css";

type Question = components["schemas"]["QuestionView"];
type Verdict = components["schemas"]["FirstVerdict"];
type Answers = Record<string, string>;
const KEPT = "first page";

/** What was answered is still there after a reload; another build begins with none of it. */
function kept(): Answers {
  try {
    return JSON.parse(sessionStorage.getItem(KEPT) ?? "{}") as Answers;
  } catch {
    return {};
  }
}

/** A new build by what decides: answers on the left, what they come to on the right while they are typed. */
export function FirstPage() {
  const navigate = useNavigate();
  const [answers, setAnswers] = useState<Answers>(kept);
  const { problem, attempt } = useAttempt();
  const { data: questions } = useQuery({
    queryKey: ["first"],
    queryFn: () => take(api.GET("/api/first")),
  });
  const name = answers["name"] ?? "";
  const body = { name, answers: Object.fromEntries(Object.entries(answers).filter(([key]) => key !== "name")) };
  const { data: verdict, error } = useQuery({
    queryKey: ["first", "verdict", body.answers],
    queryFn: () => take(api.POST("/api/first/verdict", { body: { ...body, name: "" } })),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  useEffect(() => {
    document.title = "A new build: Zinc Whistle";
  }, []);
  const put = (id: string, text: string) =>
    setAnswers((old) => {
      const next = { ...old, [id]: text };
      sessionStorage.setItem(KEPT, JSON.stringify(next));
      return next;
    });
  const begin = () =>
    attempt(async () => {
      const made = await take(api.POST("/api/first/build", { body }));
      sessionStorage.removeItem(KEPT);
      void navigate(`/b/${made.id}/motor`);
    });
  const asked = (questions ?? []).filter((q) => !q.when || q.among.includes(answers[q.when] ?? ""));
  return (
    <main className="first">
      <header>
        <h1>A new build</h1>
        <p>
          A first verdict from what decides. What you leave empty is estimated and marked so; every number can be put
          right at its station afterwards. <Link to="/">All builds</Link>
        </p>
      </header>
      <FromAnother />
      <div className="first-columns">
        <form
          aria-label="Questions"
          onSubmit={(e) => {
            e.preventDefault();
            void begin();
          }}
        >
          <TextField
            label="Its name"
            size="small"
            value={name}
            onChange={(e) => put("name", e.target.value)}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          {asked.map((q) => (
            <Asked key={q.id} q={q} text={answers[q.id] ?? ""} error={verdict?.errors[q.id] ?? ""} onPut={put} />
          ))}
          <Problem>{problem}</Problem>
          <Button type="submit" variant="contained">
            Begin with this
          </Button>
        </form>
        <section aria-label="First verdict" className="first-verdict">
          <h2>What it comes to</h2>
          <Problem>{error?.message}</Problem>
          {verdict && <Told v={verdict} />}
        </section>
      </div>
    </main>
  );
}

/** A copy of a build that is there, a demo or one's own, instead of answers. */
function FromAnother() {
  const navigate = useNavigate();
  const { problem, attempt } = useAttempt();
  const [chosen, setChosen] = useState("");
  const { data: builds } = useQuery({ queryKey: ["builds"], queryFn: () => take(api.GET("/api/builds")) });
  const copy = () =>
    attempt(async () => {
      const path = { build_id: chosen };
      const made = await take(api.POST("/api/builds/{build_id}/duplicate", { params: { path } }));
      void navigate(`/b/${made.id}/build`);
    });
  if (!builds?.length) return null;
  return (
    <form
      className="first-copy"
      aria-label="Begin with a copy"
      onSubmit={(e) => {
        e.preventDefault();
        void copy();
      }}
    >
      <label>
        Or begin with a copy of{" "}
        <select className="field-choice" value={chosen} onChange={(e) => setChosen(e.target.value)}>
          <option value="">…</option>
          {builds.map((b) => (
            <option key={b.id} value={b.id}>
              {b.name}
            </option>
          ))}
        </select>
      </label>
      <Button type="submit" size="small" variant="outlined" disabled={!chosen}>
        Copy it
      </Button>
      <Problem>{problem}</Problem>
    </form>
  );
}

type AskedProps = { q: Question; text: string; error: string; onPut: (id: string, text: string) => void };

function Asked({ q, text, error, onPut }: AskedProps) {
  if (q.empty)
    return (
      <label className="first-list">
        {q.label}
        <select className="field-choice" value={text} onChange={(e) => onPut(q.id, e.target.value)}>
          <option value="">{q.empty}</option>
          {q.options.map(([key = "", label]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </select>
      </label>
    );
  if (q.options.length)
    return (
      <fieldset className="first-choice">
        <legend>{q.label}</legend>
        <OneOf
          label={q.label}
          value={text}
          onChoose={(key) => onPut(q.id, key)}
          choices={q.options.map(([key = "", label = ""]) => ({ key, label }))}
        />
      </fieldset>
    );
  return (
    <TextField
      size="small"
      label={q.unit ? `${q.label}, ${q.unit}` : q.label}
      value={text}
      onChange={(e) => onPut(q.id, e.target.value)}
      error={error !== ""}
      helperText={error || [q.estimate && `Empty: ${q.estimate} is taken.`, q.help].filter(Boolean).join(" ")}
      slotProps={{ htmlInput: { inputMode: "text", autoComplete: "off" } }}
    />
  );
}

function Told({ v }: { v: Verdict }) {
  return (
    <div aria-live="polite">
      {v.candidates.length > 0 && (
        <>
          <h3>Drivers that may do, the best first</h3>
          <ol className="first-drivers">
            {v.candidates.map((c) => (
              <li key={c.name}>
                <b>{c.name}</b>{" "}
                <span className={c.verdict === "holds" ? "verdict-pass" : "verdict-open"}>
                  {c.verdict === "holds" ? "✓ holds" : "not all known yet"}
                </span>
                <br />
                <span className="wiring-note">{c.why}</span>
              </li>
            ))}
          </ol>
        </>
      )}
      <ul>
        {v.lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {v.sharpen && (
        <p>
          <b>What would sharpen it most:</b> {v.sharpen}
        </p>
      )}
      {v.estimates.length > 0 && (
        <p className="wiring-note">
          <b>Estimated:</b> {v.estimates.join("; ")}.
        </p>
      )}
      {v.missing.length > 0 && (
        <p className="wiring-note">
          <b>Still to answer:</b> {v.missing.join(", ")}.
        </p>
      )}
      <p className="wiring-note">
        Hold the shaft mechanically, one second, and let it cool. Fuse first, at the battery. What lifts, drives or can
        pinch falls under local codes: ask a qualified person.
      </p>
    </div>
  );
}

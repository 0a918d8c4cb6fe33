import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";
import { anyNumber } from "./chance";

/** A sum of the trade from this drive's own figures: answered, judged, and worked out. */
export function HandSums() {
  const { draft, drive } = useShell();
  const [number, setNumber] = useState(anyNumber);
  const [text, setText] = useState("");
  const [marked, setMarked] = useState<Schemas["DrillView"] | null>(null);
  const [score, setScore] = useState({ right: 0, all: 0 });
  const { problem, attempt } = useAttempt();
  const build = draft.draft;
  const ask = (answer: string, signal?: AbortSignal) =>
    take(api.POST("/api/faults/drill", { body: { build: build!, drive, number, answer }, signal: signal ?? null }));
  const asked = useQuery({
    queryKey: ["hand sum", drive, build, number],
    queryFn: ({ signal }) => ask("", signal),
    enabled: build !== null,
    gcTime: 0,
  });
  const check = () =>
    attempt(async () => {
      const got = await ask(text);
      setMarked(got);
      setScore((s) => ({ right: s.right + Number(got.verdict === "right"), all: s.all + 1 }));
    });
  const next = () => {
    setNumber(anyNumber());
    setText("");
    setMarked(null);
  };
  const sum = asked.data;
  return (
    <section className="hand-sums" aria-label="Hand sums">
      <h3>Hand sums</h3>
      <p className="field-help">
        What the trade works out in the head, with this drive’s own figures. {score.right} of {score.all} right so far.
      </p>
      {sum && (
        <>
          <p>
            <b>{sum.topic}:</b> {sum.question}
          </p>
          <form
            className="faults-guess"
            onSubmit={(e) => {
              e.preventDefault();
              if (text.trim()) void check();
            }}
          >
            <label htmlFor="hand-sum">Answer</label>
            <input
              id="hand-sum"
              value={text}
              readOnly={marked !== null}
              onChange={(e) => setText(e.target.value)}
              autoComplete="off"
            />
            <i>{sum.unit}</i>
            <Button type="submit" variant="contained" disabled={!text.trim() || marked !== null}>
              Check it
            </Button>
            <Button onClick={next}>Another sum</Button>
          </form>
          <div role="status">
            {marked && (
              <>
                <p className={`step-said verdict-${marked.verdict === "right" ? "pass" : "fail"}`}>
                  {marked.verdict === "right" ? "✓" : "✕"} {marked.says}
                </p>
                <p>{marked.working}</p>
              </>
            )}
          </div>
        </>
      )}
      <Problem>{problem || (asked.error?.message ?? "")}</Problem>
    </section>
  );
}

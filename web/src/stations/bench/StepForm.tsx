import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { api, take, type PictureOf } from "@/api/client";
import { useShell } from "@/draft/context";
import { FilePicker } from "@/shared/FilePicker";
import { keepFile } from "@/shared/KeepFile";
import { Problem, useAttempt } from "@/shared/attempt";
import { Harness } from "@/shared/harness/Harness";
import { useLaid, type Drawn } from "@/shared/harness/layout";
import { useTicks } from "@/shared/ticks";
import { readOf, sayTo, useDesk } from "./desk";
import { Clips } from "./Clips";
import { WarmUp } from "./WarmUp";
import { MeasuredCapture, OwnSetting, WavePicture } from "./Wave";
import { markOf, MARKS, skipOf, type Step } from "./step";

type FormProps = {
  step: Step;
  harness: Drawn;
  clips: PictureOf<"bench">["clips"];
  number: number;
  onNext: () => void;
  last: boolean;
  onWrong: () => void;
};

/** One step: what to do, what to expect, and its reading. */
export function StepForm({ step, harness, clips, number, onNext, last, onWrong }: FormProps) {
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
  const byScope = step.wave !== null || step.instrument.includes("scope");
  return (
    <section className="step" aria-label={step.title}>
      <h3>
        <span className="key">{number}</span> {step.title}
      </h3>
      {step.purpose && <p className="step-purpose">{step.purpose}</p>}
      {step.caution && <p className="step-caution">{step.caution}</p>}
      {step.stop && (
        <p className="step-caution">
          <b>Switch off at once if:</b> {step.stop}
        </p>
      )}
      <dl>
        <div>
          <dt>Where</dt>
          <dd>
            {step.where}
            {step.probes.length > 0 && (
              <span className="step-probes">
                {step.probes.map((x, i) => `${i ? "black" : "red"}: ${x.words}`).join(" · ")}
              </span>
            )}
          </dd>
        </div>
        <div>
          <dt>{step.instrument}</dt>
          <dd>{step.setting}</dd>
        </div>
        {(step.do || step.lines.length > 0) && (
          <div>
            <dt>Do</dt>
            <dd>
              {step.do}
              {step.lines.map((line) => (
                <code key={line} className="step-line">
                  {line}
                </code>
              ))}
              <SendLines lines={step.lines} />
            </dd>
          </div>
        )}
        <div>
          <dt>Expect</dt>
          <dd>
            {step.one_sided ? (
              <>
                <b className="step-expected">{step.bounds}</b>: {step.reason}
              </>
            ) : step.expected.number ? (
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
                {step.bounds}: {step.reason}
              </>
            ) : (
              step.expected.reason
            )}
          </dd>
        </div>
      </dl>
      {step.wave && <WavePicture wave={step.wave} />}
      {byScope && <Clips clips={clips} />}
      {step.wave && <OwnSetting wave={step.wave} />}
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
      <FromInstrument unit={step.unit} onRead={setText} />
      {(step.id === "warm" || step.id === "housing") && <WarmUp of={step.id === "warm" ? "case" : "housing"} />}
      {byScope && <MeasuredCapture step={step} onRead={setText} />}
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
      {(mark === "fail" || said.verdict === "fail") && (
        <p className="step-means">
          {step.means && (
            <>
              <b>Most likely:</b> {step.means}{" "}
            </>
          )}
          <Button size="small" variant="outlined" onClick={onWrong}>
            Find what is wrong
          </Button>
        </p>
      )}
      {!last && <Button onClick={onNext}>Next step</Button>}
      {!step.reading && <Skip step={step} onSkipped={onNext} />}
      <Beside step={step} />
      {step.probes.length > 0 && <Marked harness={harness} probes={step.probes} />}
    </section>
  );
}

/** The reading out of an instrument that is open and measures what is asked for; it is kept by hand. */
function FromInstrument({ unit, onRead }: { unit: string; onRead: (text: string) => void }) {
  const { desk, again } = useDesk();
  const { problem, attempt } = useAttempt();
  const able = desk.instruments.flatMap((x) =>
    x.lost ? [] : x.reads.filter((r) => unit.endsWith(r.unit)).map((r) => ({ x, r })),
  );
  if (!able.length) return null;
  return (
    <p className="button-row no-print">
      {able.map(({ x, r }) => (
        <Button
          key={x.id + r.id}
          size="small"
          variant="outlined"
          onClick={() =>
            void attempt(async () => {
              try {
                onRead((await readOf(x.id, r.id)).text);
              } finally {
                void again();
              }
            })
          }
        >
          {r.title} of {x.name}
        </Button>
      ))}
      <Problem>{problem}</Problem>
    </p>
  );
}

const ALIVE_MS = 200;

/** The lines of a step, said to the board that is open, one at a time. A board that hears nothing stops: it hears hello meanwhile. */
function SendLines({ lines: framed }: { lines: string[] }) {
  const { desk } = useDesk();
  const [last, setLast] = useState({ line: "", answer: "" });
  const { problem, attempt } = useAttempt();
  // The service puts the check behind a line by itself.
  const lines = framed.map((line) => line.split("~")[0] ?? line);
  const board = desk.instruments.find((x) => x.kind === "motor board" && !x.lost);
  const id = board?.id ?? "";
  const alive = id !== "" && last.line !== "";
  useEffect(() => {
    if (!alive) return;
    const again = setInterval(
      () => void sayTo(id, "hello").catch((error: unknown) => setLast({ line: "", answer: (error as Error).message })),
      ALIVE_MS,
    );
    return () => clearInterval(again);
  }, [alive, id]);
  if (!board || !lines.length) return null;
  const send = (line: string) => attempt(async () => setLast({ line, answer: await sayTo(id, line) }));
  return (
    <span className="button-row no-print">
      {lines.map((line) => (
        <Button key={line} size="small" variant="outlined" onClick={() => void send(line)}>
          Send {line}
        </Button>
      ))}
      <span role="status">{last.answer && `${last.line}: ${last.answer}`}</span>
      <Problem>{problem}</Problem>
    </span>
  );
}

/** A step that is left out, with the reason, which goes into the log. */
function Skip({ step, onSkipped }: { step: Step; onSkipped: () => void }) {
  const { draft, drive } = useShell();
  const ticks = useTicks();
  const [reason, setReason] = useState("");
  const { problem, attempt } = useAttempt();
  const key = skipOf(drive, step.id);
  if (ticks.has(key))
    return (
      <Button size="small" onClick={() => ticks.tick([key], false)}>
        Take the step in again
      </Button>
    );
  const skip = () =>
    attempt(async () => {
      const path = { build_id: draft.id };
      const text = `Skipped: ${step.title}. ${reason.trim()}`;
      await take(api.POST("/api/builds/{build_id}/log", { params: { path }, body: { topic: "note", text } }));
      ticks.tick([key], true);
      onSkipped();
    });
  return (
    <form
      className="step-skip"
      onSubmit={(e) => {
        e.preventDefault();
        if (reason.trim()) void skip();
      }}
    >
      <label htmlFor="skip">Skip it, because</label>
      <input id="skip" value={reason} onChange={(e) => setReason(e.target.value)} autoComplete="off" />
      <Button type="submit" size="small" disabled={!reason.trim()}>
        Skip
      </Button>
      <Problem>{problem}</Problem>
    </form>
  );
}

/** What belongs to a step besides its reading: a note, a picture, a capture; all of it goes into the log. */
function Beside({ step }: { step: Step }) {
  const { draft, say } = useShell();
  const [text, setText] = useState("");
  const { problem, attempt } = useAttempt();
  const note = () =>
    attempt(async () => {
      const path = { build_id: draft.id };
      const body = { topic: "note" as const, text: `${step.title}: ${text.trim()}` };
      await take(api.POST("/api/builds/{build_id}/log", { params: { path }, body }));
      setText("");
      say("Noted in the log.");
    });
  const keep = (kind: "photo" | "capture") => (file: File) =>
    void attempt(async () => {
      await keepFile(draft.id, kind, file, file.name, step.title);
      say(kind === "photo" ? "The picture is in the log." : "The capture is in the log.");
    });
  return (
    <form
      className="step-skip"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) void note();
      }}
    >
      <label htmlFor="beside">Note</label>
      <input id="beside" value={text} onChange={(e) => setText(e.target.value)} autoComplete="off" />
      <Button type="submit" size="small" disabled={!text.trim()}>
        Note it
      </Button>
      <FilePicker size="small" label="Picture of this step" accept="image/*" onPick={keep("photo")}>
        Picture …
      </FilePicker>
      <FilePicker size="small" label="Capture of this step" accept=".csv,.vcd,.txt" onPick={keep("capture")}>
        Capture …
      </FilePicker>
      <Problem>{problem}</Problem>
    </form>
  );
}

/** The harness with the two probes at their terminals. */
function Marked({ harness, probes }: { harness: Drawn; probes: Step["probes"] }) {
  const laid = useLaid(harness);
  const [hot, setHot] = useState("");
  if (!laid) return <div className="picture-wait" />;
  return <Harness laid={laid} p={harness} hot={hot} onHot={setHot} probes={probes} />;
}

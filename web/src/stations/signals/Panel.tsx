import { Slide } from "@/shared/Slide";
import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import { api, take, type PictureOf } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";
import { Machine } from "./Machine";

type View = PictureOf<"signals">["panel"];
type Pressed = components["schemas"]["Pressed"];
type Trace = { time: number[]; level: number[]; speed: number[]; current: number[] };
const EMPTY: Trace = { time: [], level: [], speed: [], current: [] };
const KEPT = 600;
const signed = (x = 0) => String(Math.round(x) || 0).replace("-", "−");

/** The panel's machine: drawn, pressed with the simulated motor answering, and what its check says. */
export function Panel({ panel }: { panel: View }) {
  const trial = useTrial();
  if (panel.refusal)
    return (
      <p className="problem" role="note">
        {panel.refusal}
      </p>
    );
  return (
    <>
      <Machine panel={panel} mode={trial.now?.mode ?? panel.modes[0]?.name ?? ""} />
      <Try panel={panel} trial={trial} />
      <Verdicts panel={panel} />
    </>
  );
}

function useTrial() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [now, setNow] = useState<Pressed | null>(null);
  const [trace, setTrace] = useState<Trace>(EMPTY);
  const [held, setHeld] = useState<string[]>([]);
  const [knob, setKnob] = useState(0);
  const [prove, setProve] = useState(false);
  const [log, setLog] = useState<string[]>([]);
  const memory = useRef<Pressed["memory"] | null>(null);
  const busy = useRef<Promise<void>>(Promise.resolve());
  const pass = (ms: number, pressed: string[]) => {
    // One call after the other: each needs what the one before remembers.
    busy.current = busy.current.then(() =>
      attempt(async () => {
        if (!draft.draft) return;
        const done = await take(
          api.POST("/api/signals/press", {
            body: { build: draft.draft, drive, memory: memory.current, pressed, knob, ms, prove },
          }),
        );
        memory.current = done.memory;
        setNow(done);
        setTrace((t) => ({
          time: [...t.time, ...done.time_s].slice(-KEPT),
          level: [...t.level, ...done.level_pct].slice(-KEPT),
          speed: [...t.speed, ...done.speed_rpm].slice(-KEPT),
          current: [...t.current, ...done.current_a].slice(-KEPT),
        }));
        setLog((l) => [...l, ...done.entered.map((e) => `${e.name} ${e.text}`)].slice(-8));
      }),
    );
    return busy.current;
  };
  const anew = () => {
    memory.current = null;
    setNow(null);
    setTrace(EMPTY);
    setLog([]);
  };
  return { now, trace, held, setHeld, knob, setKnob, prove, setProve, log, pass, anew, problem };
}

function Try({ panel, trial }: { panel: View; trial: ReturnType<typeof useTrial> }) {
  const { now, trace, held, setHeld, pass } = trial;
  const [running, setRunning] = useState(false);
  const ahead = useRef({ held, pass });
  useEffect(() => {
    ahead.current = { held, pass };
  });
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => void ahead.current.pass(200, ahead.current.held), 200);
    return () => clearInterval(timer);
  }, [running]);
  const toggle = (name: string) => {
    const next = held.includes(name) ? held.filter((n) => n !== name) : [...held, name];
    setHeld(next);
    // A panel at power-up first sees how its contacts stand.
    if (!trial.now) void pass(300, held);
    void pass(100, next);
  };
  return (
    <section className="try" aria-label="Try the panel">
      <h3>Press it</h3>
      <p className="button-row" role="group" aria-label="Inputs">
        {panel.inputs.map((input) => (
          <button
            key={input.name}
            type="button"
            className="panel-button"
            aria-pressed={held.includes(input.name)}
            onClick={() => toggle(input.name)}
          >
            {input.label}
          </button>
        ))}
        {panel.knob && (
          <span className="panel-knob">
            <Slide
              label="Knob"
              min={0}
              max={1023}
              value={trial.knob}
              onChange={trial.setKnob}
              text={`${Math.round((trial.knob / 1023) * 100)} %`}
            />
          </span>
        )}
      </p>
      <p className="button-row">
        <Button size="small" variant="outlined" onClick={() => void pass(100, held)}>
          Wait 0.1 s
        </Button>
        <Button size="small" variant="outlined" onClick={() => void pass(1000, held)}>
          Wait 1 s
        </Button>
        <Button size="small" onClick={() => setRunning(!running)} aria-pressed={running}>
          {running ? "Stop the clock" : "Let time pass"}
        </Button>
        <Button
          size="small"
          onClick={() => {
            setRunning(false);
            trial.anew();
          }}
        >
          Power up anew
        </Button>
        <Button
          size="small"
          aria-pressed={trial.prove}
          variant={trial.prove ? "contained" : "text"}
          onClick={() => trial.setProve(!trial.prove)}
        >
          {trial.prove ? "Leave the proving mode" : "Prove the inputs"}
        </Button>
      </p>
      {now && now.lamps.length > 0 && (
        <ul className="lamps" aria-label="Lamps">
          {now.lamps.map((lamp) => (
            <li key={lamp.name} className={lamp.lit ? (lamp.blinks ? "lamp-blinks" : "lamp-lit") : ""}>
              <span aria-hidden="true" /> {lamp.name}: {lamp.lit ? (lamp.blinks ? "blinks" : "lit") : "dark"}
            </li>
          ))}
        </ul>
      )}
      {trial.prove && (
        <table className="grid-table proved">
          <caption>All outputs stay off; this is what stands on the inputs</caption>
          <tbody>
            {(now?.proved ?? []).map((p) => (
              <tr key={p.name} className={p.text === "pressed" ? "proved-on" : ""}>
                <th scope="row">{p.name}</th>
                <td className="num">{p.text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Problem>{trial.problem}</Problem>
      <p role="status" className="try-now">
        {now
          ? `${(now.memory.ms / 1000).toFixed(1)} s: ${now.says}. Duty ${signed(now.level_pct.at(-1))} %, motor ${signed(now.speed_rpm.at(-1))} rpm. Lines: ${Object.entries(
              now.lines,
            )
              .map(([n, v]) => `${n} ${v}`)
              .join(", ")}.`
          : "Press a button: it stays pressed until you press it again. Time passes only when you let it."}
      </p>
      {now?.note && <p className="field-help">{now.note}</p>}
      {trace.time.length > 1 && (
        <Plot
          x={trace.time}
          xLabel="time, s"
          height={190}
          axes={[
            { id: "d", label: "duty, %", side: "left", min: Math.min(0, ...trace.level), max: 100 },
            { id: "n", label: "speed, rpm", side: "right" },
          ]}
          lines={[
            { id: "d", label: "duty", data: trace.level, axis: "d", tone: 1, labelAt: 0.3, labelDy: -10 },
            { id: "n", label: "speed", data: trace.speed, axis: "n", tone: 2, labelAt: 0.7, labelDy: 14 },
          ]}
          words="Duty and simulated speed since power-up."
          readOff="Read off at a time"
          units={{ d: "%", n: "rpm" }}
        />
      )}
      {trial.log.length > 0 && (
        <ol className="plain-list field-help">
          {trial.log.map((line, i) => (
            <li key={i + line} className="num">
              {line}
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

function Verdicts({ panel }: { panel: View }) {
  return (
    <section aria-label="What it can never do">
      <h3>Checked in every state</h3>
      <p className="field-help">
        <span className="num">{panel.states}</span> states with{" "}
        <span className="num">{panel.combinations.toLocaleString("en-GB")}</span> combinations of inputs each.
      </p>
      <ul className="plain-list never">
        {panel.verdicts.map((v) => (
          <li key={v.says} className={v.holds ? "" : "verdict-broken"}>
            <span aria-hidden="true">{v.holds ? "✓" : "✗"}</span> {v.says}
            {v.holds ? "." : ": it can."}
            {!v.holds && (
              <ol>
                {v.steps.map((s, i) => (
                  <li key={i}>
                    {s.says} → {s.mode}
                  </li>
                ))}
              </ol>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

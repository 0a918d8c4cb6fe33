import Button from "@mui/material/Button";
import { useId, useRef, useState } from "react";
import { api, take, transfer, type PictureOf } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { Problem } from "@/shared/attempt";
import { Progress, useLongWork } from "@/shared/longWork";
import { saveFile } from "@/shared/files";
import { useShell } from "@/draft/context";
import { RunPlot } from "./RunPlot";
import { Slide } from "@/shared/Slide";

type Run = components["schemas"]["RunView"];
type Ask = components["schemas"]["AskRun"];
type Zoom = components["schemas"]["ZoomView"];
type Offered = Pick<PictureOf<"signals">, "scenarios" | "faults">;

/** A run of the drive in time: motor, bridge, supply and load simulated, with what one would measure on it. */
export function Simulation({ scenarios, faults }: Offered) {
  const { draft, drive } = useShell();
  const id = useId();
  const [scenario, setScenario] = useState<Ask["scenario"]>("start");
  const [fault, setFault] = useState<Ask["fault"]>("none");
  const [averaged, setAveraged] = useState(true);
  const [duty, setDuty] = useState<number | null>(null);
  const [run, setRun] = useState<Run | null>(null);
  const [zoom, setZoom] = useState<Zoom | null>(null);
  const [places, setPlaces] = useState<[number, number]>([80, 240]);
  const { ticket, problem, work, stop } = useLongWork();
  const ask = (changed: Partial<Ask> = {}): Ask | null =>
    draft.draft ? { build: draft.draft, drive, scenario, averaged, fault, duty_pct: duty, ...changed } : null;
  // One run at a time, the newest wish next: a slow one is never shown late.
  const next = useRef<Ask | null>(null);
  const going = useRef(false);
  const simulate = (asked: Ask | null) => {
    next.current = asked;
    if (going.current) return;
    void work(async (how) => {
      going.current = true;
      try {
        while (next.current) {
          const body = next.current;
          next.current = null;
          setRun(await take(api.POST("/api/simulation/run", { body, ...how })));
          setZoom(null);
        }
      } finally {
        going.current = false;
      }
    });
  };
  const slide = (value: number) => {
    setDuty(value);
    simulate(ask({ duty_pct: value }));
  };
  const look = (time: number) =>
    work(async (how) => {
      const asked = ask();
      if (!asked) return;
      setZoom(await take(api.POST("/api/simulation/zoom", { body: { ...asked, at_s: time }, ...how })));
    });
  const give = (kind: "csv" | "vcd") =>
    work(async ({ signal, headers }) => {
      const response = await transfer("/api/simulation/file", {
        method: "POST",
        headers: { ...headers, "content-type": "application/json" },
        signal,
        body: JSON.stringify({ ...ask(), kind }),
      });
      saveFile(`run.${kind}`, await response.text(), kind === "csv" ? "text/csv" : "text/plain");
    });
  return (
    <section className="simulation" aria-label="Simulation">
      <h3>What it does in time</h3>
      <p className="button-row">
        <label htmlFor={id}>Scenario</label>
        <select
          id={id}
          className="field-choice"
          value={scenario}
          onChange={(e) => setScenario(e.target.value as Ask["scenario"])}
        >
          {scenarios.map((s) => (
            <option key={s.value} value={s.value}>
              {s.label}
            </option>
          ))}
        </select>
        <label htmlFor={`${id}-fault`}>Fault</label>
        <select
          id={`${id}-fault`}
          className="field-choice"
          value={fault}
          onChange={(e) => setFault(e.target.value as Ask["fault"])}
        >
          {faults.map((s) => (
            <option key={s.value} value={s.value}>
              {s.label}
            </option>
          ))}
        </select>
      </p>
      <p className="button-row">
        <label>
          <input type="checkbox" checked={!averaged} onChange={(e) => setAveraged(!e.target.checked)} /> every pulse
        </label>
        <Button variant="outlined" size="small" onClick={() => simulate(ask())}>
          Run
        </Button>
        <Progress ticket={ticket} words="Running …" onStop={stop} />
        {run && (
          <>
            <Button size="small" onClick={() => void give("csv")}>
              Export CSV
            </Button>
            <Button
              size="small"
              title="With what the bridge is told and the encoder's channels as digital lines: the Encoder station reads it too"
              onClick={() => void give("vcd")}
            >
              Export VCD
            </Button>
          </>
        )}
      </p>
      <Problem>{problem}</Problem>
      {run && (
        <>
          <p className="button-row">
            <span className="panel-knob">
              <Slide
                label="Working duty"
                min={2}
                max={100}
                value={Math.round(duty ?? run.duty_pct)}
                onChange={slide}
                text={`${Math.round(duty ?? run.duty_pct)} %`}
              />
              <output className="num">{Math.round(duty ?? run.duty_pct)} %</output>
            </span>
            {duty !== null && (
              <Button
                size="small"
                onClick={() => {
                  setDuty(null);
                  simulate(ask({ duty_pct: null }));
                }}
              >
                As designed
              </Button>
            )}
          </p>
          <RunPlot
            key={`${run.time_s.length}:${run.time_s.at(-1)}`}
            run={run}
            averaged={averaged}
            places={places}
            onMove={setPlaces}
            onPulses={(time) => void look(time)}
          />
          <dl className="run-figures">
            {run.measured.map((f) => (
              <div key={f.name}>
                <dt>{f.name}</dt>
                <dd className="num">{f.text}</dd>
              </div>
            ))}
          </dl>
          <p className="button-row">
            <Button
              size="small"
              variant="outlined"
              onClick={() => void look(run.time_s[Math.min(places[0], run.time_s.length - 1)] ?? 0)}
            >
              Single pulses at A
            </Button>
          </p>
          {zoom && <Zoomed zoom={zoom} />}
          {run.events.length > 0 && <p className="field-help">{run.events.join("; ")}.</p>}
          <p className="field-help">{run.notes.join(" ")}</p>
        </>
      )}
    </section>
  );
}

function Zoomed({ zoom }: { zoom: Zoom }) {
  return (
    <figure>
      <figcaption>
        Six PWM periods at {zoom.speed}: ripple {zoom.ripple}
      </figcaption>
      <Plot
        x={zoom.time_us}
        xLabel="time, µs"
        axes={[
          { id: "a", label: "motor, A", side: "left" },
          { id: "v", label: "bus, V", side: "right" },
        ]}
        lines={[
          { id: "a", label: "current", data: zoom.current_a, axis: "a", tone: 1, labelAt: 0.3, labelDy: -10 },
          { id: "v", label: "bus", data: zoom.bus_v, axis: "v", tone: 2, labelAt: 0.8, labelDy: -10 },
        ]}
        words={`Motor current and bus over six PWM periods, ripple ${zoom.ripple}.`}
        readOff="Read off at a time"
        units={{ a: "A", v: "V" }}
        height={200}
      />
    </figure>
  );
}

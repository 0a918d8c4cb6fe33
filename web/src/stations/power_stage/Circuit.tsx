import { useState } from "react";
import type { PictureOf } from "@/api/client";
import { OneOf } from "@/shared/OneOf";
import { LAYOUTS, wayOf, type Layout, type Point } from "./layouts";

type View = NonNullable<PictureOf<"stage">["circuit"]>;
type State = View["states"][number];

const LABELS: Record<string, string> = {
  "A.high": "A, upper",
  "A.low": "A, lower",
  "B.high": "B, upper",
  "B.low": "B, lower",
};

/** The circuit with the way of its current, state by state; arrow keys step through them. */
export function Circuit({ circuit }: { circuit: View }) {
  const [key, setKey] = useState(circuit.states[0]?.key);
  const index = Math.max(
    circuit.states.findIndex((s) => s.key === key),
    0,
  );
  const state = circuit.states[index];
  const layout = LAYOUTS[circuit.layout];
  if (!state || !layout) return null;
  return (
    <figure className="circuit">
      <figcaption>{circuit.title}</figcaption>
      <Drawn layout={layout} circuit={circuit} state={state} />
      <OneOf
        label="Switch state"
        choices={circuit.states.map((s) => ({ key: s.key, label: s.title, tone: s.forbidden ? "one-of-stop" : "" }))}
        value={state.key}
        onChoose={setKey}
      />
      <p className={`circuit-words${state.forbidden ? " circuit-stop" : ""}`} aria-live="polite">
        <b>{state.title}</b>
        {state.current && <span className="num"> {state.current}</span>}. {state.words}
      </p>
    </figure>
  );
}

function Drawn({ layout, circuit, state }: { layout: Layout; circuit: View; state: State }) {
  const way = wayOf(layout, state.way ?? []);
  const names = circuit.names ?? {};
  const closed = (id: string) => (state.on ?? []).includes(id);
  const label = (name: string) => names[name] ?? names["switch"] ?? "";
  return (
    <svg
      className="drawing circuit-drawing"
      viewBox={`0 0 560 ${layout.height}`}
      role="img"
      aria-label={`${circuit.title}. ${state.title}: ${way.length ? `current through ${(state.way ?? []).join(", ")}` : "no current"}.`}
    >
      <defs>
        <marker
          id="flow"
          viewBox="0 0 8 8"
          refX="4"
          refY="4"
          markerWidth="15"
          markerHeight="15"
          markerUnits="userSpaceOnUse"
          orient="auto"
        >
          <path d="M0 0l8 4-8 4z" className={state.forbidden ? "flow-stop" : "flow-tip"} />
        </marker>
      </defs>
      <path d={layout.wires} className="wire" />
      <Battery layout={layout} />
      {way.length > 0 && <Way points={way} forbidden={state.forbidden} />}
      {layout.switches.map((s) => (
        <Switch
          key={s.id}
          at={s.at}
          closed={closed(s.id)}
          diode={(state.diodes ?? []).includes(s.id)}
          label={LABELS[s.id] ?? ""}
        />
      ))}
      {layout.contacts?.map((c) => (
        <Contact key={c.id} at={c.at} pulled={closed(c.id)} label={c.id} />
      ))}
      {layout.diodes.map((d) => (
        <Diode key={d.id} at={d.at} carries={(state.diodes ?? []).includes(d.id)} />
      ))}
      <g transform={`translate(${layout.motor.join(" ")})`}>
        <circle r="25" className="part" />
        <text textAnchor="middle" y="5" className="part-name">
          M
        </text>
      </g>
      <text x="500" y="22" textAnchor="end" className="circuit-name">
        {circuit.layout === "full bridge" && names["upper"] ? `above: ${names["upper"]}` : label("switch")}
      </text>
      {circuit.layout === "full bridge" && names["upper"] && (
        <text x="500" y={layout.height - 4} textAnchor="end" className="circuit-name">
          {`below: ${names["switch"] ?? ""}`}
        </text>
      )}
    </svg>
  );
}

function Way({ points, forbidden }: { points: Point[]; forbidden: boolean }) {
  const middles: string[] = [];
  points.forEach((p, i) => {
    const q = points[i + 1];
    if (!q || Math.abs(p[0] - q[0]) + Math.abs(p[1] - q[1]) < 60) return;
    middles.push(`M${p[0]} ${p[1]}L${(p[0] + 3 * q[0]) / 4} ${(p[1] + 3 * q[1]) / 4}L${q[0]} ${q[1]}`);
  });
  return (
    <g className={forbidden ? "way way-stop" : "way"}>
      <polyline points={points.map((p) => p.join(",")).join(" ")} />
      {middles.map((d, i) => (
        <path key={i} d={d} markerMid="url(#flow)" />
      ))}
    </g>
  );
}

function Battery({ layout }: { layout: Layout }) {
  const y = layout.height === 300 ? 145 : 135;
  return (
    <g className="stroke">
      <path d={`M44 ${y - 12}H76M52 ${y}H68M44 ${y + 10}H76M52 ${y + 22}H68`} />
      <text x="84" y={y - 8}>
        +
      </text>
    </g>
  );
}

function Switch({ at, closed, diode, label }: { at: Point; closed: boolean; diode: boolean; label: string }) {
  return (
    <g transform={`translate(${at.join(" ")})`} className={closed ? "switch switch-on" : "switch"}>
      <rect x="-15" y="-26" width="30" height="52" className="gap" />
      <path d={closed ? "M0 -26V26" : "M0 26L-15 -20"} />
      <circle cy="-24" r="3" />
      <circle cy="24" r="3" />
      <g className={diode ? "small-diode small-diode-on" : "small-diode"}>
        <path d="M0 -38H26V-7M26 8V38H0M17 8H35L26 -7ZM17 -7H35" />
      </g>
      {label && (
        <text x="-24" y="5" textAnchor="end">
          {label}
        </text>
      )}
    </g>
  );
}

function Diode({ at, carries }: { at: Point; carries: boolean }) {
  return (
    <g transform={`translate(${at.join(" ")})`} className={carries ? "small-diode small-diode-on" : "small-diode"}>
      <rect x="-14" y="-16" width="28" height="30" className="gap" />
      <path d="M-13 14H13L0 -10ZM-13 -10H13M0 -10V-20M0 14V24" />
    </g>
  );
}

function Contact({ at, pulled, label }: { at: Point; pulled: boolean; label: string }) {
  return (
    <g transform={`translate(${at.join(" ")})`} className={pulled ? "switch switch-on" : "switch"}>
      <rect x="-4" y="-47" width="8" height="94" className="gap" />
      <path d={pulled ? "M0 0L0 -45" : "M0 0L0 45"} />
      <circle cy="-47" r="3" />
      <circle cy="47" r="3" />
      <circle r="3" />
      <text x="-20" y="-20" textAnchor="end">
        {label}
      </text>
    </g>
  );
}

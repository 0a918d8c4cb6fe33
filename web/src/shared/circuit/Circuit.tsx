import { useState, type ReactNode } from "react";
import type { PictureOf } from "@/api/client";
import { OneOf } from "@/shared/OneOf";
import "./circuit.css";
import { LAYOUTS, diodeOf, wayOf, type Layout, type Point } from "./layouts";

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
      <Fitted fitted={circuit.fitted} />
    </figure>
  );
}

const FITTED: Record<string, string> = {
  fuse: "Fuse",
  guard: "Guard",
  capacitor: "Capacitor",
  shunt: "Shunt",
  driver: "Gate driver",
  gate: "Gate resistor",
  base: "Base resistor",
  off: "… turning off",
  "pull-down": "Pull-down",
};

/** What stands round the switches, by name. */
function Fitted({ fitted }: { fitted: Record<string, string> }) {
  const known = Object.entries(FITTED).flatMap(([key, title]) => (fitted[key] ? [[title, fitted[key]] as const] : []));
  if (known.length === 0) return null;
  return (
    <dl className="circuit-fitted">
      {known.map(([title, text]) => (
        <div key={title}>
          <dt>{title}</dt>
          <dd className="num">{text}</dd>
        </div>
      ))}
    </dl>
  );
}

function Drawn({ layout, circuit, state }: { layout: Layout; circuit: View; state: State }) {
  const diode = diodeOf(layout, circuit.diode);
  const way = wayOf({ ...layout.ways, ...(diode ? { diode: diode.way } : {}) }, state.way ?? []);
  const names = circuit.names ?? {};
  const resistor = circuit.fitted["gate"] ?? circuit.fitted["base"];
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
      {diode && <path d={diode.wires} className="wire" />}
      <Battery layout={layout} />
      {way.length > 0 && <Way points={way} forbidden={state.forbidden} />}
      <Around layout={layout} fitted={circuit.fitted} />
      {layout.switches.map((s) => (
        <Switch
          key={s.id}
          at={s.at}
          closed={closed(s.id)}
          diode={(state.diodes ?? []).includes(s.id)}
          ownDiode={circuit.inside || (circuit.diode === "rails" && !diode)}
          label={LABELS[s.id] ?? ""}
          number={circuit.parallel}
        >
          {resistor && <Gate text={resistor} driver={"driver" in circuit.fitted} />}
        </Switch>
      ))}
      {layout.contacts?.map((c) => (
        <Contact
          key={c.id}
          contact={c}
          pulled={closed(c.id)}
          apart={(c.middle ?? false) && (state.on ?? []).length === 0}
          right={c.at[0] > layout.motor[0]}
        />
      ))}
      {diode && <Diode at={diode.at} sideways={diode.sideways} carries={(state.diodes ?? []).includes("diode")} />}
      <g transform={`translate(${layout.motor.join(" ")})`}>
        <circle r="25" className="part" />
        <text textAnchor="middle" y="5" className="part-name">
          M
        </text>
      </g>
      <text x="500" y="16" textAnchor="end" className="circuit-name">
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

/** What stands between battery and switches: fuse and guard above, shunt below, the capacitor across. */
function Around({ layout, fitted }: { layout: Layout; fitted: Record<string, string> }) {
  const bottom = layout.height - 30;
  return (
    <g className="around">
      {fitted["fuse"] && <Box at={[88, 30]} size={[24, 10]} inner="M-12 0H12" name="fuse" nameAt={-10} />}
      {fitted["guard"] && <Box at={[146, 30]} size={[26, 16]} inner="M-6 4V-4L6 0ZM6 -4V4" name="guard" nameAt={-12} />}
      {fitted["capacitor"] && (
        <g transform={`translate(118 ${bottom / 2 + 15})`}>
          <path d={`M0 ${15 - bottom / 2}V-4M0 4V${bottom / 2 - 15}`} />
          <path d="M-11 -4H11M-11 4H11" className="plates" />
        </g>
      )}
      {fitted["shunt"] && <Box at={[150, bottom]} size={[26, 10]} inner="" name="shunt" nameAt={20} />}
    </g>
  );
}

type Boxed = { at: Point; size: Point; inner: string; name: string; nameAt: number };

/** A two-ended part in the line, with its name above or below. */
function Box({ at, size, inner, name, nameAt }: Boxed) {
  const [width, height] = size;
  return (
    <g transform={`translate(${at.join(" ")})`}>
      <rect x={-width / 2} y={-height / 2} width={width} height={height} />
      {inner && <path d={inner} />}
      <text y={nameAt} textAnchor="middle">
        {name}
      </text>
    </g>
  );
}

/** A gate or base with its resistor, and the driver or pin that moves it. */
function Gate({ text, driver }: { text: string; driver: boolean }) {
  return (
    <g className="around">
      <path d="M-8 10H-22M-46 10H-54" />
      <rect x="-46" y="5" width="24" height="10" />
      {driver ? <path d="M-70 1V19L-54 10Z" /> : <circle cx="-58" cy="10" r="4" />}
      <text x="-34" y="28" textAnchor="middle">
        {text}
      </text>
    </g>
  );
}

function Switch({
  at,
  closed,
  diode,
  ownDiode,
  label,
  number,
  children,
}: {
  at: Point;
  closed: boolean;
  diode: boolean;
  ownDiode: boolean;
  label: string;
  number: number;
  children?: ReactNode;
}) {
  return (
    <g transform={`translate(${at.join(" ")})`} className={closed ? "switch switch-on" : "switch"}>
      <rect x="-15" y="-26" width="30" height="52" className="gap" />
      <path d={closed ? "M0 -26V26" : "M0 26L-15 -20"} />
      <circle cy="-24" r="3" />
      <circle cy="24" r="3" />
      {ownDiode && (
        <g className={diode ? "small-diode small-diode-on" : "small-diode"}>
          <path d="M0 -38H26V-7M26 8V38H0M17 8H35L26 -7ZM17 -7H35" />
        </g>
      )}
      {children}
      {label && (
        <text x="-24" y="-8" textAnchor="end">
          {label}
        </text>
      )}
      {number > 1 && (
        <text x="42" y="5">
          × {number}
        </text>
      )}
    </g>
  );
}

function Diode({ at, sideways, carries }: { at: Point; sideways: boolean; carries: boolean }) {
  return (
    <g
      transform={`translate(${at.join(" ")})${sideways ? " rotate(-90)" : ""}`}
      className={carries ? "small-diode small-diode-on" : "small-diode"}
    >
      <rect x="-14" y="-16" width="28" height="30" className="gap" />
      <path d="M-13 14H13L0 -10ZM-13 -10H13M0 -10V-20M0 14V24" />
    </g>
  );
}

type ContactPlace = NonNullable<Layout["contacts"]>[number];

type ContactState = { contact: ContactPlace; pulled: boolean; apart: boolean; right: boolean };

function Contact({ contact, pulled, apart, right }: ContactState) {
  const reach = contact.makes ? 24 : 47;
  const blade = contact.makes ? (pulled ? "M0 24L0 -24" : "M0 24L-20 -20") : pulled ? "M0 0L0 -45" : "M0 0L0 45";
  const away = right ? 34 : -34;
  return (
    <g transform={`translate(${contact.at.join(" ")})`} className={pulled ? "switch switch-on" : "switch"}>
      <rect x="-4" y={-reach} width="8" height={2 * reach} className="gap" />
      <path d={apart ? `M0 0L${away} -26` : blade} />
      <circle cy={-reach} r="3" />
      <circle cy={reach} r="3" />
      {!contact.makes && <circle r="3" />}
      <text
        x={right ? 14 : -14}
        y={contact.makes ? 4 : -20}
        textAnchor={right ? "start" : "end"}
        dx={contact.makes ? -14 : 0}
      >
        {contact.name ?? contact.id}
      </text>
    </g>
  );
}

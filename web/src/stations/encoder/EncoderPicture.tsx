import { useEffect, useState } from "react";
import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { Print } from "./Print";
import "./encoder.css";
import { Slide } from "@/shared/Slide";

const R = 78;

/** The disc with its two sensors turning, the A and B strips, and the rates against their limits. */
export default function EncoderPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"encoder">;
  const [turn, setTurn] = useState(0);
  const [running, setRunning] = useState(false);
  useEffect(() => {
    if (!running || !p.teeth) return;
    const pitch = 360 / p.teeth;
    let frame = 0;
    let before = performance.now();
    const go = (now: number) => {
      const passed = now - before;
      before = now;
      setTurn((t) => (t + (passed / 1000) * pitch * 0.5) % 360);
      frame = requestAnimationFrame(go);
    };
    frame = requestAnimationFrame(go);
    return () => cancelAnimationFrame(frame);
  }, [running, p.teeth]);
  if (p.tacho)
    return (
      <p className="hint">
        A tacho tells the speed as volts: nothing is counted, and no place is known. The loop holds its speed by it.
      </p>
    );
  if (!p.fitted)
    return <p className="hint">No encoder is fitted. Speed then follows load and battery, and a jam is not seen.</p>;
  if (!p.teeth)
    return <p className="hint">Give the slots, teeth or lines of the disc: counts and strips are drawn from them.</p>;
  return (
    <>
      <div className="encoder-picture">
        <Disc p={p} teeth={p.teeth} turn={turn} />
        <Strips p={p} turn={turn} />
      </div>
      <p className="read-off">
        <Slide
          label="Turn the disc"
          min={0}
          max={360}
          step={360 / p.teeth / 16}
          value={turn}
          onChange={setTurn}
          text={`${turn.toFixed(1)} degrees`}
        />
        <button type="button" className="link" aria-pressed={running} onClick={() => setRunning((r) => !r)}>
          {running ? "Hold" : "Let it turn"}
        </button>
      </p>
      <States p={p} />
      {p.prints && <Print />}
      <Rates p={p} />
      <Commands p={p} />
    </>
  );
}

function Disc({ p, teeth, turn }: { p: PictureOf<"encoder">; teeth: number; turn: number }) {
  const shown = Math.min(teeth, 90);
  const pitch = 360 / shown;
  const point = (deg: number, r: number) =>
    `${(r * Math.cos((deg * Math.PI) / 180)).toFixed(2)} ${(r * Math.sin((deg * Math.PI) / 180)).toFixed(2)}`;
  const slots = Array.from({ length: shown }, (_, i) => {
    const a = i * pitch;
    const b = a + pitch * p.tooth;
    return `M${point(a, R)}A${R} ${R} 0 0 1 ${point(b, R)}L${point(b, R * 0.68)}A${R * 0.68} ${R * 0.68} 0 0 0 ${point(a, R * 0.68)}Z`;
  }).join("");
  const far = pitch * p.shift;
  const single = p.strip_b.length === 0;
  return (
    <svg
      viewBox="-100 -100 200 200"
      className="drawing disc"
      role="img"
      aria-label={`Disc of ${teeth} teeth; ${single ? "one sensor" : `sensor B stands ${p.shift.toFixed(2)} pitches after sensor A`}`}
    >
      <g transform={`rotate(${-turn})`}>
        <circle r={R} className="outline" />
        <path d={slots} className="solid" />
        <circle r={R * 0.2} className="outline" />
      </g>
      {(single ? [0] : [0, far]).map((deg, i) => (
        <g key={i} transform={`rotate(${deg})`} className={`sensor tone-line-${i + 1}`}>
          <line x1={R * 0.62} x2={R * 1.06} y1="0" y2="0" />
          <g transform={`translate(${R * 1.17} 0) rotate(${-deg})`}>
            <text textAnchor="middle" dy={i === 0 && far < 14 ? -4 : i === 1 && far < 14 ? 10 : 4}>
              {i === 0 ? "A" : "B"}
            </text>
          </g>
        </g>
      ))}
    </svg>
  );
}

function Strips({ p, turn }: { p: PictureOf<"encoder">; turn: number }) {
  const end = p.strip_deg.at(-1) ?? 1;
  const x = (d: number) => 24 + (d / end) * 290;
  const path = (levels: number[], base: number) =>
    levels
      .map(
        (v, i) =>
          `${i === 0 ? "M" : `H${x(p.strip_deg[i] ?? 0).toFixed(1)}V`}${i === 0 ? `${x(0)} ` : ""}${base - v * 34}`,
      )
      .join("");
  return (
    <svg
      viewBox="0 0 330 170"
      className="drawing"
      role="img"
      aria-label={`${p.strip_b.length > 0 ? "A and B" : "A"} over two teeth; ${p.counts_text} a turn`}
    >
      {p.edges_deg.map((d) => (
        <line key={d} x1={x(d)} x2={x(d)} y1="14" y2="136" className="grid" />
      ))}
      <text x="4" y="42">
        A
      </text>
      <path d={path(p.strip_a, 56)} className="trace tone-line-1" />
      {p.strip_b.length > 0 && (
        <>
          <text x="4" y="106">
            B
          </text>
          <path d={path(p.strip_b, 120)} className="trace tone-line-2" />
        </>
      )}
      <line x1={x(turn % end)} x2={x(turn % end)} y1="8" y2="138" className="cursor" />
      <text x="24" y="158">
        0°
      </text>
      <text x="314" y="158" textAnchor="end">
        {Number(end.toPrecision(4))}° of the disc; a line is a count
      </text>
    </svg>
  );
}

/** The four states of a pitch of a disc of one's own, and how far each edge is off. */
function States({ p }: { p: PictureOf<"encoder"> }) {
  if (p.states.length === 0) return null;
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>The four states of a pitch, 90° each if it were ideal</caption>
        <thead>
          <tr>
            <th scope="col">A</th>
            <th scope="col">B</th>
            <th scope="col" className="num">
              lasts
            </th>
            <th scope="col" className="num">
              its edge is off by, counts
            </th>
          </tr>
        </thead>
        <tbody>
          {p.states.map((s) => (
            <tr key={`${s.a}${s.b}`}>
              <td>{s.a}</td>
              <td>{s.b}</td>
              <td className="num">{s.lasts}</td>
              <td className="num">{s.error}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Speeds as counts of a control period, and what a command of whole numbers makes of them. */
function Commands({ p }: { p: PictureOf<"encoder"> }) {
  if (p.commands.length === 0) return null;
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>Commands: counts in a control period</caption>
        <thead>
          <tr>
            <th scope="col">Output speed</th>
            <th scope="col" className="num">
              counts
            </th>
            <th scope="col" className="num">
              sent whole
            </th>
            <th scope="col" className="num">
              speed error
            </th>
          </tr>
        </thead>
        <tbody>
          {p.commands.map((c) => (
            <tr key={c.speed}>
              <td>{c.speed}</td>
              <td className="num">{c.exact}</td>
              <td className="num">{c.sent}</td>
              <td className="num">{c.error}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="field-help">
        Carry what the whole number leaves over to the next period: then nothing is lost over many of them.
      </p>
    </div>
  );
}

function Rates({ p }: { p: PictureOf<"encoder"> }) {
  if (p.rates.length === 0) return null;
  const most = Math.max(...p.rates.map((r) => r.per_second));
  const least = Math.min(...p.rates.map((r) => r.per_second)) / 2;
  const part = (v: number) => (100 * Math.log(v / least)) / Math.log((most * 1.2) / least);
  return (
    <ul className="rates" aria-label="Count rates against limits, each step to the right multiplies">
      {p.rates.map((r) => (
        <li key={r.label} className={`rate rate-${r.role}`}>
          <span>
            {r.label}
            {r.role === "other" ? " (not used)" : ""}
          </span>
          <span className="loss-bar">
            <i style={{ width: `${part(r.per_second)}%` }} />
          </span>
          <span className="num">{r.text}</span>
        </li>
      ))}
    </ul>
  );
}

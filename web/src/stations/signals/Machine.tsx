import { useEffect, useState } from "react";
import type { PictureOf } from "@/api/client";
import { BOX_HEIGHT, BOX_WIDTH, LINE_HEIGHT, isStop, layMachine, ways, type LaidMachine } from "./machineLayout";

type View = PictureOf<"signals">["panel"];

/** The panel's modes and the ways between them; where it stands now is marked. */
export function Machine({ panel, mode }: { panel: View; mode: string }) {
  const laid = useLaid(panel);
  const title = Object.fromEntries(panel.modes.map((m) => [m.name, m.title]));
  const says = panel.modes.find((m) => m.name === mode)?.says ?? "";
  const toStop = panel.edges.filter((e) => isStop(panel, e.end)).map((e) => `${e.says} → ${title[e.end]}`);
  return (
    <figure className="machine">
      <figcaption>
        The panel now: <b>{says}</b>
      </figcaption>
      {laid ? <Drawn panel={panel} laid={laid} mode={mode} says={says} /> : <div className="picture-wait" />}
      {toStop.length > 0 && <p className="field-help">From everywhere: {[...new Set(toStop)].join("; ")}.</p>}
      <details className="field-help">
        <summary>All ways in words</summary>
        <ul className="plain-list">
          {ways(panel).map((w) => (
            <li key={`${w.start}>${w.end}`}>
              {title[w.start]} → {title[w.end]}: {w.says.join("; or ")}
            </li>
          ))}
        </ul>
      </details>
    </figure>
  );
}

function useLaid(panel: View): LaidMachine | null {
  const [laid, setLaid] = useState<LaidMachine | null>(null);
  const shape = JSON.stringify([panel.modes, panel.edges]);
  useEffect(() => {
    let late = false;
    void layMachine(panel).then((done) => {
      if (!late) setLaid(done);
    });
    return () => {
      late = true;
    };
    // The layout follows the machine's shape only; a number that changes moves no mode.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape]);
  return laid;
}

const READABLE = 0.85;

function Drawn({ panel, laid, mode, says }: { panel: View; laid: LaidMachine; mode: string; says: string }) {
  const place = new Map(laid.boxes.map((b) => [b.name, b]));
  return (
    /* Its words stay readable: a machine that is wider than its place is pushed along, by keys too. */
    <div className="machine-scroll" tabIndex={0} role="group" aria-label="Modes and ways">
      <svg
        className="drawing"
        viewBox={`0 0 ${laid.width} ${laid.height}`}
        style={{ maxWidth: laid.width * 1.15, minWidth: laid.width * READABLE }}
        role="img"
        aria-label={`The panel's ${panel.modes.length} modes; now: ${says}.`}
      >
        <defs>
          <marker id="goes" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
            <path d="M0 0 L8 4 L0 8 z" className="machine-tip" />
          </marker>
        </defs>
        {laid.ways.map((w) => (
          <path
            key={`${w.start}>${w.end}`}
            className={w.start === mode ? "machine-way machine-lit" : "machine-way"}
            d={w.d}
            markerEnd="url(#goes)"
          />
        ))}
        {laid.ways.map((w) => (
          <text
            key={`${w.start}>${w.end}`}
            className={w.start === mode ? "machine-says machine-due" : "machine-says"}
            aria-hidden="true"
          >
            {w.words.lines.map((line, i) => (
              <tspan key={i} x={w.words.x + 4} y={w.words.y + (i + 0.8) * LINE_HEIGHT}>
                {line}
              </tspan>
            ))}
          </text>
        ))}
        {panel.modes.map((m) => {
          const at = place.get(m.name);
          if (!at) return null;
          return (
            <g key={m.name} className={`machine-mode machine-${m.action}${m.name === mode ? " machine-now" : ""}`}>
              <rect x={at.x} y={at.y} width={BOX_WIDTH} height={BOX_HEIGHT} />
              <text x={at.x + BOX_WIDTH / 2} y={at.y + BOX_HEIGHT / 2 + 5} textAnchor="middle">
                {m.title}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

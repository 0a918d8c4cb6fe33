import type { PictureOf } from "../../api/client";
import { Plot } from "../../shared/Plot";
import type { PictureProps } from "../../shell/SheetView";

/** The mechanism to its numbers, and one cycle of its duty. */
export default function LoadPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"load">;
  return (
    <div className="load-picture">
      {p.mechanism === "turntable" ? <Turntable p={p} /> : <Direct p={p} />}
      {p.strip_time_s.length > 0 ? (
        <Plot
          x={p.strip_time_s}
          xLabel="time, s"
          axes={[
            { id: "speed", label: "load, rpm", side: "left", min: 0 },
            { id: "current", label: "motor, A", side: "right", min: 0 },
          ]}
          lines={[
            {
              id: "speed",
              label: p.speed_text,
              data: p.strip_speed_rpm,
              axis: "speed",
              tone: 1,
              labelAt: 0.6,
              labelDy: 18,
            },
            {
              id: "current",
              label: "current",
              data: p.strip_current_a,
              axis: "current",
              tone: 2,
              labelAt: 0,
              labelDy: -8,
            },
          ]}
          words={`One cycle: the load reaches ${p.speed_text}; it ${p.cycle_text}.`}
          height={210}
        />
      ) : (
        <p className="hint">
          Give mass, radius, friction torque, speed and time to speed: the duty is drawn from them.
        </p>
      )}
      {p.strip_time_s.length > 0 && <p className="field-help">It {p.cycle_text}; long parts are cut short here.</p>}
    </div>
  );
}

function Turntable({ p }: { p: PictureOf<"load"> }) {
  const ring = p.spread === "ring";
  return (
    <svg
      className="drawing"
      viewBox="0 0 520 190"
      role="img"
      aria-label={`Turntable of ${p.mass_text}, radius ${p.radius_text}, at ${p.speed_text}, friction ${p.torque_text}, gear ${p.ratio_text} to 1`}
    >
      <ellipse cx="150" cy="70" rx="130" ry="34" className="solid" />
      {ring && <ellipse cx="150" cy="70" rx="100" ry="25" className="hollow" />}
      <path d="M20 70v14a130 34 0 0 0 260 0V70" className="solid" />
      <ellipse cx="150" cy="70" rx="130" ry="34" className="outline" />
      <path d="M150 118v30M130 148h40v30h-40z" className="outline" />
      <line x1="150" y1="70" x2="280" y2="70" className="dimension" />
      <text x="215" y="63" textAnchor="middle">
        {p.radius_text}
      </text>
      <text x="150" y="92" textAnchor="middle" className="strong">
        {p.mass_text}
      </text>
      <path d="M92 30a90 22 0 0 1 116 0" className="arrow" markerEnd="url(#tip)" />
      <text x="150" y="15" textAnchor="middle" className="strong">
        {p.speed_text}
      </text>
      <text x="182" y="168">
        gear {p.ratio_text} to 1
      </text>
      <text x="310" y="60">
        friction {p.torque_text}
      </text>
      <text x="310" y="84">
        {ring ? "mass at the rim" : "mass spread evenly"}
      </text>
      <defs>
        <marker
          id="tip"
          viewBox="0 0 8 8"
          refX="6"
          refY="4"
          markerWidth="8"
          markerHeight="8"
          orient="auto-start-reverse"
        >
          <path d="M0 0l8 4-8 4z" className="tip" />
        </marker>
      </defs>
    </svg>
  );
}

function Direct({ p }: { p: PictureOf<"load"> }) {
  return (
    <svg
      className="drawing"
      viewBox="0 0 520 120"
      role="img"
      aria-label={`Load of ${p.torque_text} at ${p.speed_text}, gear ${p.ratio_text} to 1`}
    >
      <path d="M20 40h110v44H20zM130 62h60M190 34h70v56h-70zM260 62h60M320 30h60v64h-60z" className="outline" />
      <text x="75" y="67" textAnchor="middle">
        motor
      </text>
      <text x="225" y="67" textAnchor="middle">
        {p.ratio_text} : 1
      </text>
      <text x="350" y="67" textAnchor="middle">
        load
      </text>
      <text x="395" y="52">
        {p.torque_text}
      </text>
      <text x="395" y="76">
        {p.speed_text}
      </text>
    </svg>
  );
}

import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import "./load.css";

const polar = (cx: number, cy: number, r: number, degrees: number) => {
  const a = (degrees * Math.PI) / 180;
  return [cx + r * Math.cos(a), cy - r * Math.sin(a)] as const;
};

/** The horn's sweep to its angle, and the pulse in its frame. */
export default function ServoPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"servo">;
  const [sweep, travel] = [p.sweep_deg ?? 60, p.travel_deg ?? 90];
  const frame = p.frame_ms ?? 20;
  const [low, high] = [p.low_ms ?? 1, p.high_ms ?? 2];
  const span = Math.min(frame, high * 2.4);
  const x = (ms: number) => 30 + (ms / span) * 440;
  const continuous = p.style === "continuous";
  const ends = [90 - travel / 2, 90 + travel / 2, 90 - sweep / 2, 90 + sweep / 2].map((a) => polar(140, 130, 96, a));
  const at = (i: number) => ends[i] ?? ([140, 34] as const);
  return (
    <svg
      className="drawing"
      viewBox="0 0 520 300"
      role="img"
      aria-label={`Servo: turns by ${sweep.toFixed(0)}° of ${travel.toFixed(0)}°, pulling ${p.force_text} at ${p.arm_text}; the move takes ${p.move_text}. Pulse from ${low} to ${high} ms in a frame of ${frame} ms.`}
    >
      <rect x="95" y="130" width="90" height="46" className="solid stroke" />
      {continuous ? (
        <path d="M80 130a60 60 0 1 1 120 0" className="arrow" markerEnd="url(#servo-tip)" />
      ) : (
        <>
          <path
            d={`M140 130L${at(0)[0]} ${at(0)[1]}A96 96 0 0 0 ${at(1)[0]} ${at(1)[1]}Z`}
            className="hollow"
            opacity="0.6"
          />
          <path d={`M140 130L${at(2)[0]} ${at(2)[1]}A96 96 0 0 0 ${at(3)[0]} ${at(3)[1]}Z`} className="solid" />
          <line x1="140" y1="130" x2={at(2)[0]} y2={at(2)[1]} className="flap" />
          <line x1="140" y1="130" x2={at(3)[0]} y2={at(3)[1]} className="flap flap-end" />
        </>
      )}
      <circle cx="140" cy="130" r="7" className="hollow stroke" />
      <text x="280" y="40" className="strong">
        {continuous ? "turns without end" : `turns by ${sweep.toFixed(0)}° of ${travel.toFixed(0)}°`}
      </text>
      <text x="280" y="64">
        pulls {p.force_text} at {p.arm_text}
      </text>
      <text x="280" y="88">
        needs {p.texts["torque"]}, count on {p.texts["usable"]}
      </text>
      <text x="280" y="112">
        the move takes {p.move_text}
      </text>
      <text x="280" y="136">
        wait {p.dwell_text} after the command
      </text>
      <text x="280" y="160">
        rail {p.texts["rail"]}, stalled {p.texts["stall"]}
      </text>
      <path d={`M30 270H${x(0)}V210H${x(low)}V270H${x(span)}`} className="pulse" />
      <path d={`M${x(low)} 210H${x(high)}V270`} className="pulse pulse-end" />
      <text x={x(low)} y="200" textAnchor="middle">
        {low} ms
      </text>
      <text x={x(high)} y="200" textAnchor="middle">
        {high} ms
      </text>
      <text x="490" y="290" textAnchor="end">
        again after {frame} ms; one step is {p.texts["step"]}
      </text>
      <defs>
        <marker id="servo-tip" viewBox="0 0 8 8" refX="6" refY="4" markerWidth="8" markerHeight="8" orient="auto">
          <path d="M0 0l8 4-8 4z" className="tip" />
        </marker>
      </defs>
    </svg>
  );
}

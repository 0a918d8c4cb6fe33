import type { PictureOf } from "@/api/client";

export type Mechanism = PictureOf<"load">["mechanisms"][number];
type Props = { m: Mechanism; ratio: string };

const text = (m: Mechanism, name: string) => m.texts?.[name] ?? "";
const num = (m: Mechanism, name: string, fallback: number) => m.numbers?.[name] ?? fallback;
const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high);

/** The mechanism drawn to its numbers: lengths keep their proportions, angles are true. */
export function Drawing({ m, ratio }: Props) {
  const Drawn = DRAWINGS[m.kind] ?? Direct;
  const said = Object.entries(m.texts ?? {})
    .filter(([, v]) => v !== "—")
    .map(([k, v]) => `${k.replaceAll("_", " ")} ${v}`)
    .join(", ");
  return (
    <svg className="drawing" viewBox="0 0 520 190" role="img" aria-label={`${m.title}: ${said}; gear ${ratio} to 1`}>
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
      <Drawn m={m} ratio={ratio} />
    </svg>
  );
}

function Notes({ lines, x = 330, y = 56 }: { lines: string[]; x?: number; y?: number }) {
  return (
    <>
      {lines.filter(Boolean).map((l, i) => (
        <text key={l} x={x} y={y + i * 22}>
          {l}
        </text>
      ))}
    </>
  );
}

function Turntable({ m, ratio }: Props) {
  const ring = text(m, "spread") === "ring";
  return (
    <>
      <ellipse cx="150" cy="70" rx="130" ry="34" className="solid" />
      {ring && <ellipse cx="150" cy="70" rx="100" ry="25" className="hollow" />}
      <path d="M20 70v14a130 34 0 0 0 260 0V70" className="solid" />
      <ellipse cx="150" cy="70" rx="130" ry="34" className="outline" />
      <path d="M150 118v30M130 148h40v30h-40z" className="outline" />
      <line x1="150" y1="70" x2="280" y2="70" className="dimension" />
      <text x="215" y="63" textAnchor="middle">
        {text(m, "radius")}
      </text>
      <text x="150" y="92" textAnchor="middle" className="strong">
        {text(m, "mass")}
      </text>
      <path d="M92 30a90 22 0 0 1 116 0" className="arrow" markerEnd="url(#tip)" />
      <text x="150" y="15" textAnchor="middle" className="strong">
        {text(m, "speed")}
      </text>
      <text x="182" y="168">
        gear {ratio} to 1
      </text>
      <Notes
        x={310}
        lines={[`friction ${text(m, "friction_torque")}`, ring ? "mass at the rim" : "mass spread evenly"]}
      />
    </>
  );
}

function Wheels({ m, ratio }: Props) {
  const slope = num(m, "slope", 0);
  const r = clamp(num(m, "diameter", 0.1) * 200, 14, 34);
  const count = clamp(num(m, "wheels", 4) / 2, 1, 4);
  const degrees = (-slope * 180) / Math.PI;
  return (
    <>
      <g transform={`rotate(${degrees} 40 160)`}>
        <line x1="10" y1="160" x2="330" y2="160" className="outline" />
        <rect x="70" y={160 - r * 2 - 34} width="170" height="40" className="solid" />
        <rect x="70" y={160 - r * 2 - 34} width="170" height="40" className="outline" />
        {Array.from({ length: count }, (_, i) => (
          <circle
            key={i}
            cx={95 + (i * 120) / Math.max(count - 1, 1)}
            cy={160 - r}
            r={r}
            className={i < num(m, "driven", 2) / 2 ? "solid stroke" : "hollow stroke"}
          />
        ))}
        <path d={`M250 ${160 - r * 2 - 14}h52`} className="arrow" markerEnd="url(#tip)" />
        <text x="155" y={160 - r * 2 - 9} textAnchor="middle" className="strong">
          {text(m, "mass")}
        </text>
        <text x="258" y={160 - r * 2 - 22} className="strong">
          {text(m, "velocity")}
        </text>
      </g>
      <Notes
        x={352}
        y={40}
        lines={[
          `wheel ${text(m, "diameter")}`,
          `slope ${text(m, "slope")}`,
          `${text(m, "driven")} of ${text(m, "wheels")} driven`,
          `${text(m, "motors")} motors share it`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Winch({ m, ratio }: Props) {
  const slope = num(m, "slope", Math.PI / 2);
  const r = clamp(num(m, "radius", 0.02) * 900, 14, 36);
  const counter = num(m, "counterweight", 0) > 0;
  const along = slope < 0.6;
  // The ropes lean out a little where the drum is small, so that both loads can be seen.
  const wide = Math.max(r, 38);
  return (
    <>
      <circle cx="150" cy="46" r={r} className="solid stroke" />
      <circle cx="150" cy="46" r="4" className="outline" />
      {along ? (
        <>
          <path d={`M150 ${46 + r}h150`} className="outline" />
          <rect x="300" y={26 + r} width="56" height="40" className="solid stroke" />
          <line x1="200" x2="380" y1={67 + r} y2={67 + r} className="outline" />
        </>
      ) : (
        <>
          <path d={`M${150 + r} 46L${150 + wide} 120`} className="outline" />
          <rect x={150 + wide - 28} y="120" width="56" height="44" className="solid stroke" />
          <text x={150 + wide} y="147" textAnchor="middle" className="strong">
            {text(m, "mass")}
          </text>
          <path d={`M${150 + wide + 40} 156v-34`} className="arrow" markerEnd="url(#tip)" />
          <text x={150 + wide + 50} y="144" className="strong">
            {text(m, "velocity")}
          </text>
          {counter && (
            <>
              <path d={`M${150 - r} 46L${150 - wide} 96`} className="outline" />
              <rect x={150 - wide - 28} y="96" width="56" height="36" className="hollow stroke" />
              <text x={150 - wide} y="119" textAnchor="middle">
                {text(m, "counterweight")}
              </text>
            </>
          )}
        </>
      )}
      <Notes
        x={352}
        y={36}
        lines={[
          `drum radius ${text(m, "radius")}`,
          along ? `mass ${text(m, "mass")} at ${text(m, "velocity")}` : "",
          `guides ${text(m, "friction")}`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Screw({ m, ratio }: Props) {
  const d = clamp(num(m, "mean_diameter", 0.012) * 1200, 12, 44);
  const pitch = clamp(num(m, "lead", 0.004) * 1200, 5, 60);
  const turns = Math.min(Math.floor(220 / pitch), 40);
  return (
    <>
      <rect x="30" y="70" width="44" height="50" className="outline" />
      <rect x="74" y={95 - d / 2} width="240" height={d} className="solid stroke" />
      {Array.from({ length: turns }, (_, i) => (
        <line
          key={i}
          x1={80 + i * pitch}
          x2={80 + (i + 0.5) * pitch}
          y1={95 + d / 2}
          y2={95 - d / 2}
          className="outline"
        />
      ))}
      <rect x="180" y={75 - d / 2} width="50" height={d + 40} className="hollow stroke" />
      <path d="M236 40h60" className="arrow" markerEnd="url(#tip)" />
      <text x="240" y="32" className="strong">
        {text(m, "velocity")}
      </text>
      <Notes
        x={352}
        y={46}
        lines={[
          `force ${text(m, "force")}`,
          `mass ${text(m, "mass")}`,
          `mean diameter ${text(m, "mean_diameter")}`,
          `lead ${text(m, "lead")}`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Rack({ m, ratio }: Props) {
  const r = clamp(num(m, "radius", 0.01) * 1200, 16, 40);
  const slope = (-num(m, "slope", 0) * 180) / Math.PI;
  return (
    <>
      <g transform={`rotate(${slope} 60 130)`}>
        <path
          d={`M40 130h270v14H40z${Array.from({ length: 26 }, (_, i) => `M${44 + i * 10} 130l3-6h4l3 6`).join("")}`}
          className="outline"
        />
        <circle cx="130" cy={124 - r} r={r} className="solid stroke" />
        <circle cx="130" cy={124 - r} r="4" className="outline" />
        <rect x="220" y="146" width="70" height="28" className="hollow stroke" />
        <text x="255" y="165" textAnchor="middle" className="strong">
          {text(m, "mass")}
        </text>
      </g>
      <Notes
        x={352}
        y={46}
        lines={[
          `${text(m, "velocity")}`,
          `pinion radius ${text(m, "radius")}`,
          `work ${text(m, "force")}`,
          `direction ${text(m, "slope")}`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Lever({ m, ratio }: Props) {
  const [start, end] = [num(m, "start", 0), num(m, "end", 1.57)];
  const size = 130;
  const share = clamp(num(m, "centre", 0.5) / Math.max(num(m, "length", 1), 1e-9), 0, 1);
  const at = (a: number, k = 1) => [110 + size * k * Math.cos(a), 150 - size * k * Math.sin(a)] as const;
  const [sx, sy] = at(start);
  const [ex, ey] = at(end);
  const [cx, cy] = at(start, share);
  const [ax, ay] = at(start, 0.5);
  const [bx, by] = at(end, 0.5);
  const large = Math.abs(end - start) > Math.PI ? 1 : 0;
  return (
    <>
      <line x1="110" y1="150" x2={sx} y2={sy} className="flap" />
      <line x1="110" y1="150" x2={ex} y2={ey} className="flap flap-end" />
      <circle cx="110" cy="150" r="6" className="solid stroke" />
      <circle cx={cx} cy={cy} r="6" className="hollow stroke" />
      <path d={`M${cx} ${cy + 8}v26`} className="arrow" markerEnd="url(#tip)" />
      <path
        d={`M${ax} ${ay}A${size / 2} ${size / 2} 0 ${large} ${end > start ? 0 : 1} ${bx} ${by}`}
        className="arrow"
        markerEnd="url(#tip)"
      />
      <Notes
        x={330}
        y={40}
        lines={[
          `${text(m, "mass")}, centre at ${text(m, "centre")}`,
          `length ${text(m, "length")}`,
          `from ${text(m, "start")} to ${text(m, "end")}`,
          `at ${text(m, "speed")}`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Fan({ m, ratio }: Props) {
  return (
    <>
      <g transform="translate(140 92)">
        {[0, 90, 180, 270].map((a) => (
          <path key={a} transform={`rotate(${a})`} d="M0 0C20-14 52-30 74-10C60 4 24 6 0 0Z" className="solid stroke" />
        ))}
        <circle r="10" className="hollow stroke" />
        <path d="M-40-72a82 82 0 0 1 80 0" className="arrow" markerEnd="url(#tip)" />
      </g>
      <Notes
        x={300}
        y={50}
        lines={[
          `${text(m, "torque")} at ${text(m, "at_speed")}`,
          `wanted ${text(m, "speed")}`,
          "torque grows with the square",
          `inertia ${text(m, "inertia")}`,
          `gear ${ratio} to 1`,
        ]}
      />
    </>
  );
}

function Direct({ m, ratio }: Props) {
  return (
    <>
      <path d="M20 70h110v44H20zM130 92h60M190 64h70v56h-70zM260 92h60M320 60h60v64h-60z" className="outline" />
      <text x="75" y="97" textAnchor="middle">
        motor
      </text>
      <text x="225" y="97" textAnchor="middle">
        {ratio} : 1
      </text>
      <text x="350" y="97" textAnchor="middle">
        load
      </text>
      <text x="395" y="82">
        {text(m, "friction_torque")}
      </text>
      <text x="395" y="106">
        {text(m, "speed")}
      </text>
    </>
  );
}

const DRAWINGS: Record<string, (props: Props) => React.ReactNode> = {
  turntable: Turntable,
  wheels: Wheels,
  winch: Winch,
  screw: Screw,
  rack: Rack,
  lever: Lever,
  fan: Fan,
  direct: Direct,
};

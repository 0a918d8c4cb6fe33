import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { Sag } from "./Sag";
import "./supply.css";

const ROW = 44;
const LEFT = 16;
const WIDTH = 500;

/** The range from full to flat, each consumer's window and the worst moments, on one scale of volts. */
export default function SupplyPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"supply">;
  const bands = p.bands;
  if (bands.length === 0)
    return <p className="hint">Give the source its full, nominal and flat voltage: its range is drawn from them.</p>;
  const most = Math.max(...bands.map((b) => b.high));
  const unit = most > 60 ? 20 : most > 25 ? 5 : most > 10 ? 2 : 1;
  const end = Math.ceil((most * 1.04) / unit) * unit;
  const x = (v: number) => LEFT + (v / end) * (WIDTH - 2 * LEFT);
  const height = bands.length * ROW + 34;
  return (
    <>
      <svg
        className="drawing"
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={bands.map((b) => `${b.label}: ${b.text}`).join("; ")}
      >
        {Array.from({ length: end / unit + 1 }, (_, i) => (
          <g key={i}>
            <line x1={x(i * unit)} x2={x(i * unit)} y1="4" y2={height - 24} className="grid" />
            <text x={x(i * unit)} y={height - 8} textAnchor="middle">
              {i * unit}
              {i * unit === end ? " V" : ""}
            </text>
          </g>
        ))}
        {bands.map((b, i) => {
          const y = i * ROW + 8;
          const point = b.high === b.low;
          const far = x(b.high) > WIDTH * 0.62;
          return (
            <g key={b.label} className={`band band-${b.role}`}>
              <text x={LEFT + 4} y={y + 9} className="band-label">
                {b.label}
              </text>
              {point ? (
                <>
                  <line x1={x(b.low)} x2={x(b.low)} y1={y + 12} y2={y + 34} className="band-mark" />
                  {b.role === "need" && <line x1={x(0)} x2={x(b.low)} y1={y + 23} y2={y + 23} className="band-below" />}
                </>
              ) : (
                <rect x={x(b.low)} y={y + 15} width={Math.max(x(b.high) - x(b.low), 2)} height="16" />
              )}
              <text
                x={far ? x(b.low) - 6 : x(b.high) + 6}
                y={y + 28}
                textAnchor={far ? "end" : "start"}
                className="strong"
              >
                {b.text}
              </text>
            </g>
          );
        })}
      </svg>
      <Sag p={p} />
    </>
  );
}

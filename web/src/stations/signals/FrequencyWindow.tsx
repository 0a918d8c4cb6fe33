import type { PictureOf } from "@/api/client";

type View = PictureOf<"signals">["window"];
const LEFT = 118;
const RIGHT = 14;
const WIDTH = 480;
const ROW = 30;

/** What each limit leaves of the frequencies, on one scale; where all rows are open lies the window. */
export function FrequencyWindow({ view }: { view: View }) {
  const [low, high] = [Math.log10(view.low_hz), Math.log10(view.high_hz)];
  const x = (hz: number) =>
    LEFT + (Math.min(Math.max((Math.log10(hz) - low) / (high - low), 0), 1) || 0) * (WIDTH - LEFT - RIGHT);
  const tall = 30 + view.bounds.length * ROW;
  const marks = [100, 1e3, 1e4, 1e5].filter((f) => f >= view.low_hz && f <= view.high_hz);
  const known = view.bounds.filter((b) => b.hz !== null);
  const from = Math.max(view.low_hz, ...known.filter((b) => b.side === "low").map((b) => b.hz!));
  const to = Math.min(view.high_hz, ...known.filter((b) => b.side === "high").map((b) => b.hz!));
  return (
    <figure className="window">
      <figcaption>{view.verdict}</figcaption>
      <svg className="drawing" viewBox={`0 0 ${WIDTH} ${tall + 26}`} role="img" aria-label={view.verdict}>
        {from < to && <rect className="window-open" x={x(from)} y={6} width={x(to) - x(from)} height={tall - 8} />}
        {marks.map((f) => (
          <g key={f}>
            <line className="window-grid" x1={x(f)} x2={x(f)} y1={6} y2={tall} />
            <text x={x(f)} y={tall + 18} textAnchor="middle">
              {f >= 1000 ? `${f / 1000} kHz` : `${f} Hz`}
            </text>
          </g>
        ))}
        {view.bounds.map((b, i) => {
          const y = 14 + i * ROW;
          if (b.hz === null)
            return (
              <g key={b.name}>
                <text className="strong" x={0} y={y + 15}>
                  {b.name}
                </text>
                <text x={LEFT + 8} y={y + 15}>
                  not known yet
                </text>
              </g>
            );
          const edge = x(b.hz);
          const [start, end] = b.side === "low" ? [LEFT, edge] : [edge, WIDTH - RIGHT];
          return (
            <g key={b.name}>
              <title>{`${b.name}: ${b.side === "low" ? "below" : "above"} ${b.text} ${b.beyond}`}</title>
              <text className="strong" x={0} y={y + 15}>
                {b.name}
              </text>
              <rect
                className={b.soft ? "window-soft" : "window-shut"}
                x={start}
                y={y}
                width={Math.max(end - start, 0)}
                height={ROW - 10}
              />
              <line className="window-edge" x1={edge} x2={edge} y1={y - 2} y2={y + ROW - 8} />
              <text
                x={b.side === "low" ? edge + 6 : edge - 6}
                y={y + 15}
                textAnchor={b.side === "low" ? "start" : "end"}
                className="num"
              >
                {b.text}
              </text>
            </g>
          );
        })}
        {view.present_hz !== null && (
          <g className="window-now">
            <line x1={x(view.present_hz)} x2={x(view.present_hz)} y1={2} y2={tall} />
            <path d={`M${x(view.present_hz) - 6} ${tall + 1} h12 l-6 -9 z`} />
          </g>
        )}
      </svg>
      <ul className="plain-list field-help">
        {view.bounds.map((b) => (
          <li key={b.name}>
            {b.side === "low" ? "Below" : "Above"} {b.text} {b.beyond}.
          </li>
        ))}
      </ul>
    </figure>
  );
}

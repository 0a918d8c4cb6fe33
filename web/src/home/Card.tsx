import { Link } from "react-router";
import type { Schemas } from "@/api/client";

const WORDS = { holds: "holds", open: "open", tight: "tight", stops: "stops", stale: "stale" };

/** How a build stands: a square a station, its tightest spot, and what to do next. */
export function Card({ card }: { card: Schemas["CardView"] }) {
  const next = `/b/${card.build}/${card.station}${card.drive ? `?drive=${encodeURIComponent(card.drive)}` : ""}`;
  return (
    <div className="build-card">
      <Margins margins={card.margins} />
      <p className="card-stamps">
        {card.stamps.map((s) => (
          <span
            key={s.station}
            role="img"
            className={`card-stamp square-${s.state}`}
            title={`${s.title}: ${WORDS[s.state]}`}
            aria-label={`${s.title}: ${WORDS[s.state]}`}
          >
            {s.mark}
          </span>
        ))}
      </p>
      <p>
        {card.drives}
        {card.tightest && (
          <>
            {" "}
            · tightest: <b>{card.tightest}</b>
          </>
        )}
      </p>
      <p>
        Next: <Link to={next}>{card.next}</Link>
      </p>
    </div>
  );
}

const [WIDE, HIGH, TOP] = [200, 46, 2];

/** Every limit of a build as a bar, nearest first: the line across is the limit. */
function Margins({ margins }: { margins: Schemas["CardMargin"][] }) {
  if (margins.length === 0) return null;
  const step = Math.min(WIDE / margins.length, 9);
  const line = HIGH * 0.2;
  const tall = (use: number) => Math.max(Math.min(use * (HIGH - line), HIGH - TOP), 1);
  const count = (state: string) => margins.filter((m) => m.state === state).length;
  const said = [
    [count("stop"), "stop"],
    [count("warn"), "to look at"],
    [count("tight"), "tight"],
  ].flatMap(([n, word]) => (n ? [`${n} ${word}`] : []));
  return (
    <svg
      className="card-margins"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`${margins.length} limits, nearest first: ${said.join(", ") || "all with room"}`}
    >
      {margins.map((m, i) => (
        <rect
          key={i}
          className={`margin-${m.state}`}
          x={i * step}
          width={Math.max(step - 1.5, 1)}
          y={HIGH - tall(m.use)}
          height={tall(m.use)}
        >
          <title>{`${m.title}: ${m.use >= 2 ? "twice or more" : `${Math.round(m.use * 100)} %`}`}</title>
        </rect>
      ))}
      <line x1={0} x2={margins.length * step} y1={line} y2={line} />
    </svg>
  );
}

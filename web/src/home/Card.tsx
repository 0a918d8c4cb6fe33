import { Link } from "react-router";
import type { Schemas } from "@/api/client";

const WORDS = { holds: "holds", open: "open", tight: "tight", stops: "stops", stale: "stale" };

/** How a build stands: a square a station, its tightest spot, and what to do next. */
export function Card({ card }: { card: Schemas["CardView"] }) {
  const next = `/b/${card.build}/${card.station}${card.drive ? `?drive=${encodeURIComponent(card.drive)}` : ""}`;
  return (
    <div className="build-card">
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

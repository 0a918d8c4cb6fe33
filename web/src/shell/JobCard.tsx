import { memo } from "react";
import { NavLink } from "react-router";
import type { Reply } from "@/api/client";
import { Stamp } from "@/shared/Stamp";

type Props = { id: string; reply: Reply; drive: string; station: string; saved: string; onDrive: (id: string) => void };

/** The build as a card that travels through the stations. */
export const JobCard = memo(function JobCard({ id, reply, drive, station, saved, onDrive }: Props) {
  const query = drive ? `?drive=${drive}` : "";
  return (
    <nav className="card" aria-label="Stations">
      <NavLink to="/" className="card-hole" aria-label="All builds" title="All builds" />
      <h1>{reply.name}</h1>
      <p className="card-sub" role="status">
        {saved}
      </p>
      {reply.drives.length > 1 && (
        <div className="drives" role="group" aria-label="Drives">
          {reply.drives.map((d) => (
            <button type="button" key={d.id} aria-pressed={d.id === drive} onClick={() => onDrive(d.id)}>
              {d.name}
            </button>
          ))}
        </div>
      )}
      <ol className="stations">
        <li>
          <NavLink to={`/b/${id}/build${query}`} aria-current={station === "build" ? "page" : undefined}>
            <span className="key">b</span>
            <span>Build</span>
          </NavLink>
        </li>
        {reply.stamps.map((s) => (
          <li key={s.station}>
            <NavLink to={`/b/${id}/${s.station}${query}`} aria-current={station === s.station ? "page" : undefined}>
              <span className="key">{s.key}</span>
              <span>{s.title}</span>
              {s.station !== "log" && <Stamp state={s.state} text={s.text} />}
            </NavLink>
          </li>
        ))}
      </ol>
      <p className="card-foot">
        <span>
          <kbd>Ctrl</kbd> <kbd>K</kbd> find
        </span>
        <span>
          <kbd>?</kbd> keys
        </span>
      </p>
    </nav>
  );
});

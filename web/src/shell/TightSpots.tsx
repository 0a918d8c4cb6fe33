import type { FindingView, Reply } from "@/api/client";
import { Bar } from "@/shared/Bar";
import { memo } from "react";
import { useActions } from "@/draft/context";

const TITLES: Record<string, string> = {
  motor: "Motor",
  load: "Load",
  supply: "Supply",
  driver: "Driver",
  power_stage: "Power stage",
  signals: "Signals",
  wiring: "Wiring",
  encoder: "Encoder",
  loop: "Loop",
  bench: "Bench",
  log: "Log",
};

const STATE_WORDS: Record<string, string> = { stop: "stops", warn: "look at this", tight: "tight", holds: "" };

/** The limits nearest to being crossed in the whole build. */
export const TightSpots = memo(function TightSpots({ reply }: { reply: Reply }) {
  const several = reply.drives.length > 1;
  const stationTitle = (key: string) => TITLES[key] ?? "Build";
  const nameOf = (id: string) => (several ? (reply.drives.find((d) => d.id === id)?.name ?? "") : "");
  return (
    <aside className="spots" aria-label="Tight spots">
      <h2>Tight spots</h2>
      <p>The whole build, nearest limit first</p>
      {reply.spots.length === 0 && (
        <p className="spots-none">
          Nothing to compare yet. Give the motor, the load and the supply, then choose a driver.
        </p>
      )}
      <ul>
        {reply.spots.map((s) => (
          <Spot key={s.key} spot={s} station={[stationTitle(s.station), nameOf(s.drive)].filter(Boolean).join(", ")} />
        ))}
      </ul>
      {reply.unknown > 0 && (
        <p className="spots-none">{reply.unknown} checks wait for a number that is not given yet.</p>
      )}
    </aside>
  );
});

const Spot = memo(function Spot({ spot, station }: { spot: FindingView; station: string }) {
  const { goTo, openWorking } = useActions();
  const open = () => {
    goTo(spot.station, spot.where, spot.drive);
    if (spot.figure) openWorking(spot.figure, spot.station);
  };
  return (
    <li>
      <button type="button" className={`spot spot-${spot.state}`} onClick={open}>
        <span className="spot-top">
          <span>{spot.title}</span>
          <span>{spot.use_text || "✕"}</span>
        </span>
        {spot.use !== null && <Bar use={spot.use} state={spot.state} />}
        <span className="spot-foot">
          <span>{spot.use === null ? spot.todo : spot.detail}</span>
          <span>{station}</span>
        </span>
        {STATE_WORDS[spot.state] && <span className="unseen">{STATE_WORDS[spot.state]}</span>}
      </button>
    </li>
  );
});

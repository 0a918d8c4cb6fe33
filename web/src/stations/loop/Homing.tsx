import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { ToldFigures } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";
import { plain, Short } from "@/shared/asked";

type View = components["schemas"]["HomingView"];

/** Homing, tried from many places of the switch: how late its zero is, and how far it runs on. */
export function Homing() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [away, setAway] = useState("90");
  const [found, setFound] = useState<View | null>(null);
  const run = () =>
    attempt(async () => {
      if (!draft.draft) return;
      const body = { build: draft.draft, drive, degrees: plain(away, "how far it is away, in degrees of the output") };
      setFound(await take(api.POST("/api/loop/home", { body })));
    });
  return (
    <section className="loop-moves" aria-label="Homing">
      <h3>Homing</h3>
      <p className="button-row asked-row">
        <Short label="Away, degrees" value={away} onChange={setAway} />
        <Button variant="outlined" size="small" onClick={() => void run()}>
          Home
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && (
        <div role="status">
          <ToldFigures
            rows={[
              ["Met at", `${found.speed.toPrecision(3)} counts/s`],
              ["Zero late by up to", `${found.late.toFixed(1)} counts`],
              ["Differs by", `${found.spread.toFixed(1)} counts, ${found.spread_deg.toPrecision(2)}°`],
              ["Runs on by", `${found.overrun.toFixed(1)} counts, ${found.overrun_deg.toPrecision(2)}°`],
              ["Takes", `${found.time_s.toPrecision(3)} s`],
              ["Peak", `${found.peak_a.toPrecision(3)} A`],
            ]}
          />
          <ul className="plain-list field-help">
            {found.says.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}

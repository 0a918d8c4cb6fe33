import Button from "@mui/material/Button";
import { useId, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { applyChanges } from "@/draft/changes";
import { useShell } from "@/draft/context";
import { Says } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";

type Found = components["schemas"]["WarmUpView"];

/** Temperatures over time: where they end after a few minutes' reading, and what the build may take over from that. */
export function WarmUp({ of }: { of: "housing" | "case" }) {
  const id = useId();
  const { draft, drive, say } = useShell();
  const [readings, setReadings] = useState("");
  const [air, setAir] = useState("");
  const [found, setFound] = useState<Found | null>(null);
  const { problem, attempt } = useAttempt();
  const tell = () =>
    attempt(async () => {
      setFound(null);
      if (!draft.draft) return;
      const body = { build: draft.draft, drive, of, readings, air };
      setFound(await take(api.POST("/api/captures/warm-up", { body })));
    });
  const takeOver = (changes: Found["changes"]) => {
    draft.edit("what the rise told", (build) => applyChanges(build, changes));
    say("Taken over; Undo takes it back.");
    setFound(null);
  };
  return (
    <details className="wave-own">
      <summary>Read it over some minutes: where will it end?</summary>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void tell();
        }}
      >
        <label htmlFor={`${id}r`}>Minutes:degrees</label>
        <input
          id={`${id}r`}
          value={readings}
          placeholder="0:24, 2:31.5, 4:36, 6:39"
          onChange={(e) => setReadings(e.target.value)}
          autoComplete="off"
        />
        <label htmlFor={`${id}a`}>Air round it, °C</label>
        <input id={`${id}a`} value={air} onChange={(e) => setAir(e.target.value)} autoComplete="off" />
        <Button type="submit" size="small" variant="outlined" disabled={!readings.trim() || !air.trim()}>
          Where does it end?
        </Button>
      </form>
      <Problem>{problem}</Problem>
      {found && (
        <>
          <Says lines={found.says} />
          {found.changes.length > 0 && (
            <>
              <ul className="plain-list">
                {found.changes.map((c) => (
                  <li key={c.path}>
                    {(c.path.split(".").at(-1) ?? "").replaceAll("_", " ")}: {c.text}
                  </li>
                ))}
              </ul>
              <Button size="small" variant="contained" onClick={() => takeOver(found.changes)}>
                Take it over
              </Button>
            </>
          )}
        </>
      )}
    </details>
  );
}

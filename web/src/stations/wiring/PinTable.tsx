import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { applyChanges } from "@/draft/changes";
import { useShell } from "@/draft/context";
import { changeAt, freshId, getAt } from "@/draft/paths";
import { Problem } from "@/shared/attempt";
import { useLongWork } from "@/shared/longWork";
import type { Wiring } from "./wiring";

type Ways = components["schemas"]["PinWaysView"];
type Way = Ways["ways"][number];

/** The pins of the controller that the drive in hand uses; any can be fixed by hand. */
export function PinTable({ p }: { p: Wiring }) {
  const { draft } = useShell();
  const path = `${p.drive_path}.fixed_pins`;
  const fixed = (getAt(draft.draft, path) as { id: string; signal: string; pin: string }[] | undefined) ?? [];
  const fix = (signal: string, pin: string) =>
    draft.editAt(`Pin of ${signal}`, path, () => [
      ...fixed.filter((f) => f.signal !== signal),
      ...(pin ? [{ id: freshId(), signal, pin }] : []),
    ]);
  if (!p.pins.length) return <p className="wiring-note">No signal of this drive goes to a controller.</p>;
  return (
    <>
      {p.pins.some((u) => u.refusal) && <WaysOut />}
      <div className="scroll">
        <table className="grid-table">
          <caption>Controller pins</caption>
          <thead>
            <tr>
              <th>Signal</th>
              <th>Needs</th>
              <th>Pin</th>
              <th>In the program</th>
              <th>
                <span className="unseen">What is wrong</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {p.pins.map((u) => (
              <tr key={u.signal} className={u.refusal ? "row-open" : ""}>
                <td>{u.signal}</td>
                <td>{u.needs === "pwm" ? "PWM" : u.needs}</td>
                <td>
                  <select
                    className="field-choice"
                    aria-label={`Pin of ${u.signal}`}
                    value={u.fixed ? u.pin_id : ""}
                    onChange={(e) => fix(u.signal, e.target.value)}
                  >
                    <option value="">{u.fixed ? "find one by itself" : `${u.pin || "none"}, found by itself`}</option>
                    {u.choices?.map((c, i) => (
                      <option key={c} value={c}>
                        {u.choice_labels?.[i]}
                      </option>
                    ))}
                  </select>
                  <span className="print-only">{u.pin || "none"}</span>
                </td>
                <td className="num">{u.program}</td>
                <td>{u.refusal && <span className="field-error">{u.refusal}</span>}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** What could be changed so that every signal has a place: each was tried on the whole build. */
function WaysOut() {
  const { draft, drive } = useShell();
  const { busy, problem, work } = useLongWork();
  const [ways, setWays] = useState<Ways | null>(null);
  const look = () =>
    work(async (how) => {
      const build = draft.draft;
      if (build) setWays(await take(api.POST("/api/wiring/ways", { body: { build, drive }, ...how })));
    });
  const adopt = (way: Way) => {
    draft.edit(way.label, (build) =>
      way.emptied.reduce((at, path) => changeAt(at, path, () => []), applyChanges(build, way.changes)),
    );
    setWays(null);
  };
  return (
    <section aria-label="Ways out" className="ways">
      <Button size="small" variant="outlined" onClick={() => void look()} disabled={busy}>
        Look for ways out
      </Button>
      <Problem>{problem}</Problem>
      {!!ways?.why.length && (
        <>
          <p>Timer by timer:</p>
          <ul>
            {ways.why.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      {ways?.ways.length === 0 && <p>No single change gives them a place: take another controller, under Build.</p>}
      {!!ways?.ways.length && (
        <ul>
          {ways.ways.map((w) => (
            <li key={w.label}>
              <Button size="small" onClick={() => adopt(w)}>
                {w.label}
              </Button>{" "}
              {w.left ? `${w.left} signals are without a place then` : "all have a place then"}
              {w.breaks.length ? `; it would exceed: ${w.breaks.join(", ")}` : ""}.
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

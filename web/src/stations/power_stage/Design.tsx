import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Bar } from "@/shared/Bar";
import { Problem } from "@/shared/attempt";
import { Progress, useLongWork } from "@/shared/longWork";
import { useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";
import { changeAt } from "@/draft/paths";

type Designs = components["schemas"]["DesignsView"];
type Lock = components["schemas"]["AskDesign"]["locks"] extends (infer T)[] | undefined ? T : never;

const LOCKS: [Lock, string][] = [
  ["switch", "Switch"],
  ["parallel", "Number in parallel"],
  ["gate_driver", "Gate driver"],
  ["gate_resistor", "Gate resistor"],
  ["frequency", "PWM frequency"],
  ["heat_sink", "Heat sink"],
];

/** The best few stages that the shelf can make; what is locked stays as it is. */
export function Design({ unitPath, onClose }: { unitPath: string; onClose: () => void }) {
  const { draft, drive, say } = useShell();
  const [locks, setLocks] = useState<Lock[]>([]);
  const [quiet, setQuiet] = useState(true);
  const [found, setFound] = useState<Designs | null>(null);
  const { ticket, busy, problem, work, stop } = useLongWork();
  const search = () =>
    work(async (how) => {
      if (!draft.draft) return;
      const body = { build: draft.draft, drive, locks, quiet };
      setFound(await take(api.POST("/api/stage/design", { body, ...how })));
    });
  const adopt = (d: Designs["designs"][number]) => {
    draft.editAt(`Design: ${d.label}`, "", (old) => {
      const own = changeAt(old, unitPath, (unit) => ({ ...(unit as object), made_of: "stage", stage: d.stage }));
      return applyChanges(own, d.changes);
    });
    say(`Taken over: ${d.words.join(", ")}. Undo takes it back.`);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="design-title">
      <div className="dialog">
        <h2 id="design-title">Design for me</h2>
        <p className="field-help">
          Every transistor of the shelf, one to eight in parallel, with each gate driver, resistor, frequency and heat
          sink is held against the limits. Tick what must stay as it is. Circuit, gate supply and protection stay.
        </p>
        <fieldset className="locks">
          <legend>Stays as it is</legend>
          {LOCKS.map(([key, label]) => (
            <label key={key}>
              <input
                type="checkbox"
                checked={locks.includes(key)}
                onChange={(e) => setLocks(e.target.checked ? [...locks, key] : locks.filter((l) => l !== key))}
              />{" "}
              {label}
            </label>
          ))}
          <label>
            <input type="checkbox" checked={quiet} onChange={(e) => setQuiet(e.target.checked)} /> Above hearing
          </label>
        </fieldset>
        <p className="button-row">
          <Button variant="contained" autoFocus onClick={() => void search()} disabled={busy}>
            {found ? "Search again" : "Search"}
          </Button>
          <Progress ticket={ticket} words="Searching …" onStop={stop} />
        </p>
        <Problem>{problem}</Problem>
        {found && (
          <p role="status">
            {found.designs.length
              ? `${found.hold.toLocaleString("en-GB")} of ${found.looked_at.toLocaleString("en-GB")} combinations hold; the best:`
              : found.reason}
          </p>
        )}
        <ul className="plain-list designs">
          {found?.designs.map((d) => (
            <li key={d.words.join()}>
              <div>
                <b>{d.label.charAt(0).toUpperCase() + d.label.slice(1)}</b>
                <p>{d.words.join(" · ")}</p>
                <p className="field-help">{d.tight.length ? `Tight: ${d.tight.join("; ")}` : "No tight spots."}</p>
              </div>
              <dl>
                <dt>Price</dt>
                <dd className="num">{d.price}</dd>
                <dt>Heat</dt>
                <dd className="num">{d.heat}</dd>
                <dt>Junction</dt>
                <dd className="num">{d.junction}</dd>
                <dt>Tightest</dt>
                <dd className="num">
                  <Bar use={d.use} state={d.use >= 0.8 ? "tight" : "holds"} /> {d.use_text}
                </dd>
              </dl>
              <Button size="small" variant="outlined" onClick={() => adopt(d)} aria-label={`Take over: ${d.label}`}>
                Take over
              </Button>
            </li>
          ))}
        </ul>
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

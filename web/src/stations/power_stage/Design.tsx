import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useState } from "react";
import { api, take, type Sheet } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Bar } from "@/shared/Bar";
import { Problem } from "@/shared/attempt";
import { Progress, useLongWork } from "@/shared/longWork";
import { useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";
import { changeAt } from "@/draft/paths";
import { DesignAsk, NOTHING_ASKED, type Lock } from "./DesignAsk";
import { TradeOff } from "./TradeOff";

type Designs = components["schemas"]["DesignsView"];
type One = Designs["designs"][number];

/** The places for parts that this stage has, with what the sheet calls them. */
const slotsOf = (sheet: Sheet): [Lock, string][] =>
  sheet.sections
    .flatMap((s) => s.fields)
    .filter((f) => f.control === "slot")
    .map((f) => [f.path.split(".").at(-1) as Lock, f.label]);
const grouped = (n: number) => n.toLocaleString("en-GB").replaceAll(",", "\u202f");

/** Stages that the shelf can make: the best of each goal and what lies between; what is locked stays as it is. */
export function Design({ unitPath, sheet, onClose }: { unitPath: string; sheet: Sheet; onClose: () => void }) {
  const { draft, drive, say } = useShell();
  const [asked, setAsked] = useState(NOTHING_ASKED);
  const [found, setFound] = useState<Designs | null>(null);
  const [at, setAt] = useState(0);
  const { ticket, busy, problem, work, stop } = useLongWork();
  const search = () =>
    work(async (how) => {
      if (!draft.draft) return;
      setFound(null);
      setFound(await take(api.POST("/api/stage/design", { body: { build: draft.draft, drive, ...asked }, ...how })));
      setAt(0);
    });
  const adopt = (d: One) => {
    draft.editAt(`Design: ${d.label || d.price}`, "", (old) => {
      const own = changeAt(old, unitPath, (unit) => ({ ...(unit as object), made_of: "stage", stage: d.stage }));
      return applyChanges(own, d.changes);
    });
    say(`Taken over: ${d.words.join(", ")}. Undo takes it back.`);
    onClose();
  };
  const picked = found?.designs[at];
  const others = found?.designs.filter((d) => d.label && d !== picked) ?? [];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="design-title">
      <div className="dialog">
        <h2 id="design-title">Design for me</h2>
        <p className="field-help">
          Every transistor of the shelf, one to eight in parallel, with each gate driver, resistor, frequency and heat
          sink is held against the limits; upper switch, relay, diode, guard and fuse are exchanged one after the other.
          Circuit and gate supply stay, and whether there is a guard or a fuse.
        </p>
        <DesignAsk asked={asked} slots={slotsOf(sheet)} onAsk={setAsked} />
        <p className="button-row">
          <Button variant="contained" autoFocus onClick={() => void search()} disabled={busy}>
            {found ? "Search again" : "Search"}
          </Button>
          <Progress ticket={ticket} words="Searching …" onStop={stop} />
        </p>
        <Problem>{problem}</Problem>
        {found && (
          <p role="status">
            {picked
              ? `${grouped(found.hold)} of ${grouped(found.looked_at)} combinations hold. Shown are the best, and between them what no other combination with the same protection beats in price, heat and tightest use together.`
              : found.reason}
          </p>
        )}
        {found && picked && <TradeOff designs={found.designs} at={at} onPick={setAt} />}
        <ul className="plain-list designs">
          {picked && <Card design={picked} picked onTake={adopt} />}
          {others.map((d) => (
            <Card key={d.label} design={d} onTake={adopt} />
          ))}
        </ul>
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

function Card({ design: d, picked = false, onTake }: { design: One; picked?: boolean; onTake: (d: One) => void }) {
  const name = d.label || "between the best";
  return (
    <li className={picked ? "design-picked" : undefined}>
      <div>
        <b>{name.charAt(0).toUpperCase() + name.slice(1)}</b>
        {picked && <small> picked</small>}
        <p>{d.words.join(" · ")}</p>
        {d.warned.length > 0 && <p className="design-warned">Look at: {d.warned.join("; ")}</p>}
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
          <Bar use={d.use} state={d.state === "holds" ? "holds" : "tight"} /> {d.use_text}
        </dd>
      </dl>
      <Button size="small" variant="outlined" onClick={() => onTake(d)} aria-label={`Take over: ${name}`}>
        Take over
      </Button>
    </li>
  );
}

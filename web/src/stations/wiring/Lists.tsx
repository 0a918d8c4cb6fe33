import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { transfer } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveFile } from "@/shared/files";
import type { Wiring } from "./layout";
import { useTicks } from "./ticks";

const MUST = { beeps: "beeps", reads: "reads low", silent: "is silent" };

function Tick({ id, name }: { id: string; name: string }) {
  const ticks = useTicks();
  return (
    <Checkbox
      size="small"
      checked={ticks.has(id)}
      onChange={(e) => ticks.tick([id], e.target.checked)}
      slotProps={{ input: { "aria-label": name } }}
    />
  );
}

/** What a meter must say before any source is connected. */
export function Continuity({ p }: { p: Wiring }) {
  const shorts = p.probes.filter((x) => x.must !== "beeps");
  const through = p.probes.filter((x) => x.must === "beeps");
  const table = (caption: string, rows: Wiring["probes"]) => (
    <div className="scroll">
      <table className="grid-table">
        <caption>{caption}</caption>
        <thead>
          <tr>
            <th>Done</th>
            <th>One probe</th>
            <th>The other</th>
            <th>The meter</th>
            <th>{rows === through ? "Net" : "What lies between"}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((x) => (
            <tr key={x.id}>
              <td>
                <Tick id={x.id} name={`${x.one} to ${x.other} was measured`} />
              </td>
              <td>{x.one}</td>
              <td>{x.other}</td>
              <td>
                <b>{MUST[x.must as keyof typeof MUST]}</b>
              </td>
              <td>{x.says}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
  return (
    <section aria-label="Continuity">
      <p className="wiring-note">
        Every source off, every fuse and programming lead out, capacitors given a minute. A bought board may read
        something of its own between its terminals: then compare with a second one, or with its sheet.
      </p>
      {table("Not joined: a short is what burns", shorts)}
      {table("Joined from end to end", through)}
    </section>
  );
}

/** The colours of a resistor as they lie, its tolerance apart. */
function Bands({ bands }: { bands: string[] }) {
  return (
    <svg viewBox="0 0 64 18" width="64" height="18" role="img" aria-label={bands.join(", ")} className="bands">
      <line x1="0" x2="64" y1="9" y2="9" className="lead" />
      <rect x="8" y="3" width="48" height="12" className="body" />
      {bands.map((b, i) => (
        <rect
          key={b + i}
          x={13 + i * 8 + (i === bands.length - 1 ? 7 : 0)}
          y="3"
          width="4"
          height="12"
          className={`band-${b}`}
        />
      ))}
    </svg>
  );
}

/** The order of the work, what marks each part, and what to look at before the next. */
export function Assembly({ p }: { p: Wiring }) {
  return (
    <section aria-label="Assembly">
      <ol className="steps">
        {p.steps.map((s) => (
          <li key={s.id}>
            <h4>
              <Tick id={s.id} name={`${s.title}: done`} />
              {s.title}
            </h4>
            <p>{s.why}</p>
            {s.groups.map((g) => (
              <div key={g.on}>
                {g.on && <b>{g.on}</b>}
                <ul className="marks">
                  {g.items.map((x) => (
                    <li key={x.what}>
                      {x.what}
                      {x.mark && <span className="wiring-note">: {x.mark}</span>}
                      {!!x.bands.length && (
                        <span className="wiring-note">
                          {" "}
                          <Bands bands={x.bands} /> {x.bands.join(" ")}
                          {!!x.fine.length && (
                            <>
                              , with 1 % <Bands bands={x.fine} /> {x.fine.join(" ")}
                            </>
                          )}
                          {x.back && ` (from the other end it would read ${x.back}: measure it)`}
                        </span>
                      )}
                    </li>
                  ))}
                </ul>
              </div>
            ))}
            {!!s.look?.length && <p className="wiring-note">Before the next: {s.look.join(" ")}</p>}
          </li>
        ))}
      </ol>
      <h4>Tools and consumables</h4>
      <ul>
        {p.tools.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
    </section>
  );
}

/** All that the build takes, with its prices as far as they are known. */
export function Bill({ p }: { p: Wiring }) {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(async () => {
      const response = await transfer("/api/wiring/bill", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ build: draft.draft, drive }),
      });
      saveFile("bill.csv", await response.text(), "text/csv");
    });
  return (
    <section aria-label="Bill of materials">
      <div className="table-head">
        <span>{p.bill_sum}</span>
        <Button size="small" onClick={() => void give()}>
          Export CSV
        </Button>
      </div>
      <Problem>{problem}</Problem>
      <div className="scroll">
        <table className="grid-table">
          <caption>Bill of materials</caption>
          <thead>
            <tr>
              <th>What</th>
              <th>Value</th>
              <th>Number</th>
              <th>Spares</th>
              <th>Each</th>
              <th>Together</th>
              <th>Where</th>
            </tr>
          </thead>
          <tbody>
            {p.bill.map((x, i) => (
              <tr key={`${x.what} ${x.value} ${i}`}>
                <td>{x.what}</td>
                <td>{x.value}</td>
                <td className="num">{x.number}</td>
                <td className="num">{x.spares}</td>
                <td className="num">{x.each}</td>
                <td className="num">{x.price}</td>
                <td>{x.where}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

import Button from "@mui/material/Button";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";
import { fetchFile } from "@/shared/files";
import type { Wiring } from "./wiring";
import { LogState } from "./LogState";
import { Tick } from "./Tick";

const MUST = { beeps: "beeps", reads: "reads low", silent: "is silent" };

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
      <LogState state={p.state} />
      <p className="wiring-note">
        Every source off, every fuse and programming lead out, capacitors given a minute. A bought board may read
        something of its own between its terminals: then compare with a second one, or with its sheet.
      </p>
      {table("Not joined: a short is what burns", shorts)}
      {table("Joined from end to end", through)}
    </section>
  );
}

/** All that the build takes, with its prices as far as they are known. */
export function Bill({ p }: { p: Wiring }) {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(() => fetchFile("/api/wiring/bill", { build: draft.draft, drive }, "bill.csv", "text/csv"));
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

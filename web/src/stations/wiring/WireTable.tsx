import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useState } from "react";
import { useShell } from "@/draft/context";
import { getAt } from "@/draft/paths";
import { Problem, useAttempt } from "@/shared/attempt";
import { fetchFile } from "@/shared/files";
import { OneOf } from "@/shared/OneOf";
import { coloursOf } from "@/shared/harness/layout";
import type { Wiring } from "./wiring";
import { TakeAwayHead } from "@/shared/TakeAway";
import { useTicks } from "@/shared/ticks";

const SHOWN = [
  { key: "mine", label: "This drive" },
  { key: "all", label: "Whole build" },
] as const;

export function Swatch({ colour }: { colour: string }) {
  const { base, stripe } = coloursOf(colour);
  return (
    <span className={`swatch wire-${base}`} aria-hidden="true">
      {stripe && <span className={`swatch-stripe wire-${stripe}`} />}
    </span>
  );
}

/** Every wire, its two ends, and whether it is made. */
export function WireTable({
  p,
  hot,
  onHot,
  everything,
}: {
  p: Wiring;
  hot: string;
  onHot: (net: string) => void;
  everything: boolean;
}) {
  const { draft, drive } = useShell();
  const ticks = useTicks();
  const { problem, attempt } = useAttempt();
  const [which, setWhich] = useState<(typeof SHOWN)[number]["key"]>("all");
  const several = p.harness.connections.some((c) => !c.mine);
  const rows =
    everything || !several || which === "all" ? p.harness.connections : p.harness.connections.filter((c) => c.mine);
  const path = `${p.drive_path}.left_out`;
  const leftOut = (getAt(draft.draft, path) as string[] | undefined) ?? [];
  const leave = (own: string, out: boolean) =>
    draft.editAt(out ? "Connection left out" : "Connection taken in", path, () =>
      out ? [...leftOut, own] : leftOut.filter((x) => x !== own),
    );
  const give = () =>
    attempt(() => fetchFile("/api/wiring/netlist", { build: draft.draft, drive }, "netlist.csv", "text/csv"));
  const fitted = rows.filter((c) => c.fitted);
  const allMade = fitted.every((c) => ticks.has(c.id));
  return (
    <section aria-label="Wires">
      <div className="table-head">
        {several && !everything && <OneOf label="Which wires" choices={SHOWN} value={which} onChoose={setWhich} />}
        <span className="wiring-note">
          {p.made} of {p.to_make} wires of the build are ticked as made.
        </span>
        <Button
          size="small"
          onClick={() =>
            ticks.tick(
              fitted.map((c) => c.id),
              !allMade,
            )
          }
        >
          {allMade ? "Take these ticks away" : "Tick all of these"}
        </Button>
        <Button size="small" onClick={() => void give()}>
          Export the netlist as CSV
        </Button>
      </div>
      <Problem>{problem}</Problem>
      <div className="scroll">
        <table className="grid-table wires">
          <caption>Connections</caption>
          <thead>
            <tr>
              <th>Made</th>
              <th>From</th>
              <th>To</th>
              <th>Signal</th>
              <th>Wire</th>
              <th>Colour</th>
              <th>Length</th>
              <th>Current</th>
              <th>Drop, pair</th>
              <TakeAwayHead />
            </tr>
          </thead>
          <tbody>
            {rows.map((c) => (
              <tr
                key={c.id}
                className={[c.fitted ? "" : "row-open", hot && hot === c.net ? "row-hot" : ""].join(" ")}
                onPointerEnter={() => onHot(c.net)}
                onPointerLeave={() => onHot("")}
                onFocus={() => onHot(c.net)}
                onBlur={() => onHot("")}
              >
                <td>
                  <Checkbox
                    size="small"
                    checked={ticks.has(c.id)}
                    disabled={!c.fitted}
                    onChange={(e) => ticks.tick([c.id], e.target.checked)}
                    slotProps={{
                      input: {
                        "aria-label": `${c.signal} from ${c.start_name} ${c.start_pin} to ${c.end_name} ${c.end_pin} is made`,
                      },
                    }}
                  />
                </td>
                <td>
                  {c.start_name} <b>{c.start_pin}</b>
                </td>
                <td>
                  {c.end_name} <b>{c.end_pin}</b>
                </td>
                <td>{c.fitted ? c.signal : `${c.signal}: left out`}</td>
                <td className="num">{c.gauge}</td>
                <td>
                  <Swatch colour={c.colour} /> {c.colour}
                </td>
                <td className="num">{c.length}</td>
                <td className="num">{c.current}</td>
                <td className="num">{c.drop}</td>
                <td>
                  {c.own && (
                    <Button
                      size="small"
                      className="row-button"
                      aria-label={`${c.fitted ? "Omit" : "Take in"} ${c.signal} to ${c.end_name} ${c.end_pin}`}
                      onClick={() => leave(c.own, c.fitted)}
                    >
                      {c.fitted ? "Omit" : "Take in"}
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {p.unused.length > 0 && <p className="wiring-note">Nothing is joined to: {p.unused.join("; ")}.</p>}
    </section>
  );
}

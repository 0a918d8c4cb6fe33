import Button from "@mui/material/Button";
import { useRef, useState } from "react";
import { api, take } from "@/api/client";
import { useShell } from "@/draft/context";
import { OneOf } from "@/shared/OneOf";
import { Problem } from "@/shared/attempt";
import { drawnText } from "@/shared/drawn";
import { saveFile } from "@/shared/files";
import { Progress, useLongWork } from "@/shared/longWork";
import { BoardDrawing, type Plan, type Side } from "./BoardDrawing";
import type { Wiring } from "./wiring";

/** A board of one's own: laid out when asked for, seen from the parts or from the wire. */
export function Board({ p }: { p: Wiring }) {
  const { draft, drive } = useShell();
  const { ticket, busy, problem, work, stop } = useLongWork();
  const [board, setBoard] = useState(p.boards[0]?.id ?? "");
  const [side, setSide] = useState<Side>("parts");
  const [hot, setHot] = useState("");
  const [made, setMade] = useState<{ of: unknown; board: string; plan: Plan } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const lay = (id: string) =>
    work(async (how) => {
      const build = draft.draft;
      if (!build) return;
      const plan = await take(api.POST("/api/wiring/board", { body: { build, drive, board: id }, ...how }));
      setMade({ of: build, board: id, plan });
    });
  const plan = made?.board === board ? made.plan : null;
  return (
    <section aria-label="Board" className="board-page">
      <div className="board-asked no-print">
        {p.boards.length > 1 && (
          <OneOf
            label="Which board"
            value={board}
            onChoose={setBoard}
            choices={p.boards.map((b) => ({ key: b.id, label: b.name }))}
          />
        )}
        <Button variant="outlined" size="small" disabled={busy} onClick={() => void lay(board)}>
          {plan ? "Lay it out anew" : "Lay it out"}
        </Button>
        <Progress ticket={ticket} words="Looking for places …" onStop={stop} />
      </div>
      <Problem>{problem}</Problem>
      {!plan && !busy && (
        <p className="wiring-note">
          Perforated board, holes 2.54 mm apart: places for the parts, bare wire along the underside, and links of
          insulated wire where it cannot pass.
        </p>
      )}
      {plan && made?.of !== draft.draft && (
        <p className="wiring-note" role="status">
          The build has changed since: lay it out anew.
        </p>
      )}
      {plan && (
        <>
          <p>
            <b>{plan.title}</b>: {plan.size}, {plan.columns} × {plan.rows} holes, {plan.height} high,{" "}
            {plan.links.length} {plan.links.length === 1 ? "link" : "links"}. {plan.fits}
          </p>
          <div className="board-asked no-print">
            <OneOf
              label="Seen from"
              value={side}
              onChoose={setSide}
              choices={[
                { key: "parts", label: "From the parts" },
                { key: "wire", label: "From below, mirrored" },
              ]}
            />
            <Button
              size="small"
              onClick={() =>
                svg.current &&
                saveFile(
                  "board.svg",
                  drawnText(svg.current, { width: plan.columns * 20, height: plan.rows * 20 }),
                  "image/svg+xml",
                )
              }
            >
              Keep as SVG
            </Button>
          </div>
          <BoardDrawing plan={plan} side={side} hot={hot} onHot={setHot} ref={svg} />
          <Joints plan={plan} hot={hot} onHot={setHot} />
          <Places plan={plan} />
          <h4>Look out for</h4>
          <ul>
            {plan.notes.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
          {!!plan.worth.length && (
            <>
              <h4>Worth adding</h4>
              <ul>
                {plan.worth.map((n) => (
                  <li key={n}>{n}</li>
                ))}
              </ul>
            </>
          )}
        </>
      )}
    </section>
  );
}

/** What the iron does: each joint from hole to hole. */
function Joints({ plan, hot, onHot }: { plan: Plan; hot: string; onHot: (joint: string) => void }) {
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>Joints; the holes are named as seen from the parts</caption>
        <thead>
          <tr>
            <th>Joint</th>
            <th>From hole to hole</th>
            <th>Current</th>
            <th>Bare wire</th>
          </tr>
        </thead>
        <tbody>
          {plan.joints.map((j) => (
            <tr
              key={j.name}
              className={hot === j.name ? "row-hot" : ""}
              onPointerEnter={() => onHot(j.name)}
              onPointerLeave={() => onHot("")}
            >
              <td>
                <Button className="row-button" size="small" onFocus={() => onHot(j.name)} onBlur={() => onHot("")}>
                  {j.name}
                </Button>
              </td>
              <td>{j.ways}</td>
              <td className="num">{j.current || "small"}</td>
              <td className="num">{j.wire}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What goes where, the lowest first. */
function Places({ plan }: { plan: Plan }) {
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>Places, the lowest part first</caption>
        <thead>
          <tr>
            <th>Part</th>
            <th>Value</th>
            <th>Its pins</th>
            <th>Height</th>
            <th>Look out for</th>
          </tr>
        </thead>
        <tbody>
          {plan.parts.map((x) => (
            <tr key={x.name}>
              <td>{x.name}</td>
              <td>{x.value}</td>
              <td>{x.pins.map((pin) => `${pin.pin} in ${pin.hole}`).join(", ")}</td>
              <td className="num">{x.height}</td>
              <td>{x.look}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

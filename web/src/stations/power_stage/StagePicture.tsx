import Button from "@mui/material/Button";
import { useState } from "react";
import { type PictureOf } from "@/api/client";
import { ComponentShelf } from "@/shared/shelf/ComponentShelf";
import { Problem, useAttempt } from "@/shared/attempt";
import { fetchFile } from "@/shared/files";
import { Plot } from "@/shared/Plot";
import { useShell } from "@/draft/context";
import type { PictureProps } from "@/shared/picture";
import { Circuit } from "@/shared/circuit/Circuit";
import { Design } from "./Design";
import { HeatMap } from "./HeatMap";
import "./power_stage.css";

type Stage = PictureOf<"stage">;

/** The circuit with its current, the map of its heat, and for a stage of one's own its parts and their bill. */
export default function StagePicture({ picture, sheet }: PictureProps) {
  const p = picture as Stage;
  const [shelf, setShelf] = useState(false);
  const [design, setDesign] = useState(false);
  if (!p.built_in)
    return (
      <p className="hint">
        No driver is chosen yet: choose one at Driver, or build the stage from transistors (“Made of”, on the left).
      </p>
    );
  const total = p.losses.reduce((sum, l) => sum + Math.max(l.watts, 0), 0);
  return (
    <>
      {p.own && (
        <p className="button-row">
          <Button variant="outlined" size="small" onClick={() => setDesign(true)}>
            Design for me …
          </Button>
          <Button size="small" onClick={() => setShelf(true)}>
            The shelf of components …
          </Button>
        </p>
      )}
      {p.circuit && <Circuit key={p.circuit.layout} circuit={p.circuit} />}
      {p.map && <HeatMap map={p.map} />}
      {p.places.length > 0 && <Places places={p.places} />}
      <ul className="losses" aria-label="What the heat is made of">
        {p.losses.map((l, i) => (
          <li key={l.label}>
            <span>{l.label}</span>
            <span className="loss-bar">
              <i
                className={`tone-${i + 1}`}
                style={{ width: `${total > 0 ? (100 * Math.max(l.watts, 0)) / total : 0}%` }}
              />
            </span>
            <span className="num">{l.text}</span>
          </li>
        ))}
      </ul>
      {p.air && <OverAir air={p.air} />}
      {p.bill && <Bill bill={p.bill} />}
      {shelf && <ComponentShelf onClose={() => setShelf(false)} />}
      {design && <Design unitPath={p.unit_path} sheet={sheet} onClose={() => setDesign(false)} />}
    </>
  );
}

function Places({ places }: { places: Stage["places"] }) {
  return (
    <div className="wide-table" role="group" aria-label="Heat by place" tabIndex={0}>
      <table className="rows places">
        <caption>Each place’s busiest transistor</caption>
        <thead>
          <tr>
            {["Place", "Current", "Conduction", "Switching", "Heat", "Junction", "Motor current it allows"].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {places.map((x) => (
            <tr key={x.name}>
              <th scope="row">{x.name}</th>
              {[x.current, x.conduction, x.switching, x.heat, x.junction, x.allowed].map((v, i) => (
                <td key={i} className="num">
                  {v}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function OverAir({ air }: { air: NonNullable<Stage["air"]> }) {
  const lines = [
    { id: "free", label: "free in the air", data: air.free_a, axis: "a", tone: 1 as const, labelAt: 0.3 },
    ...(air.sink_a.length
      ? [{ id: "sink", label: "on its heat sink", data: air.sink_a, axis: "a", tone: 2 as const, labelAt: 0.2 }]
      : []),
  ];
  return (
    <Plot
      x={air.air_c}
      xLabel="air, °C"
      axes={[{ id: "a", label: "motor current allowed, A", side: "left", min: 0 }]}
      lines={lines}
      marks={air.hot_c !== null ? [{ x: air.hot_c, label: "hottest air", tone: "brass" }] : []}
      points={air.hot_c !== null && air.working_a !== null ? [{ x: air.hot_c, y: air.working_a, axis: "a" }] : []}
      words="Motor current that the heat allows, over the temperature of the air."
      readOff="Read off at an air temperature"
      units={{ free: "A", sink: "A" }}
      height={240}
    />
  );
}

function Bill({ bill }: { bill: NonNullable<Stage["bill"]> }) {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(() => fetchFile("/api/stage/materials", { build: draft.draft, drive }, "materials.csv", "text/csv"));
  return (
    <section aria-label="Bill of materials">
      <div className="heatmap-head">
        <h3>Bill of materials</h3>
        <Button size="small" onClick={() => void give()}>
          Export CSV
        </Button>
      </div>
      <Problem>{problem}</Problem>
      <div className="wide-table" role="group" aria-label="Lines of the bill" tabIndex={0}>
        <table className="rows bill">
          <thead>
            <tr>
              {["What", "Part", "Number", "Each", "Price"].map((h) => (
                <th key={h} scope="col">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {bill.lines.map((l) => (
              <tr key={l.what}>
                <td>{l.what}</td>
                <td>{l.part}</td>
                <td className="num">{l.number}</td>
                <td className="num">{l.each}</td>
                <td className="num">{l.price}</td>
              </tr>
            ))}
            <tr>
              <td colSpan={4}>Board and delivery, share of one piece</td>
              <td className="num">{bill.board}</td>
            </tr>
            <tr>
              <th scope="row" colSpan={4}>
                One piece
              </th>
              <td className="num">
                <b>{bill.piece}</b>
              </td>
            </tr>
            {bill.pieces > 1 && (
              <tr>
                <td colSpan={4}>All {bill.pieces} pieces</td>
                <td className="num">{bill.all}</td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </section>
  );
}

import Checkbox from "@mui/material/Checkbox";
import { useEffect, useState } from "react";
import type { PictureOf } from "@/api/client";
import { useShell } from "@/draft/context";
import { freshId, getAt } from "@/draft/paths";
import type { PictureProps } from "@/shared/picture";
import { Harness, layOut, type Laid } from "./harness";
import "./wiring.css";

/** The harness as drawn from the design, and the same as a table. */
export default function WiringPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"wiring">;
  const { draft } = useShell();
  const [laid, setLaid] = useState<Laid | null>(null);
  const shape = JSON.stringify([p.blocks, p.connections.map((c) => [c.id, c.start_pin, c.end_pin])]);
  useEffect(() => {
    let late = false;
    void layOut(p).then((done) => {
      if (!late) setLaid(done);
    });
    return () => {
      late = true;
    };
    // The layout follows the harness's shape only; gauge or length do not move a block.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape]);
  const leftOut = (getAt(draft.draft, `${p.drive_path}.left_out`) as string[] | undefined) ?? [];
  const toggle = (id: string, made: boolean) =>
    draft.editAt("Connection made or open", `${p.drive_path}.left_out`, () =>
      made ? leftOut.filter((i) => i !== id) : [...leftOut, id],
    );
  const fixed =
    (getAt(draft.draft, `${p.drive_path}.fixed_pins`) as { id: string; signal: string; pin: string }[] | undefined) ??
    [];
  const fix = (signal: string, pin: string) =>
    draft.editAt(`Pin of ${signal}`, `${p.drive_path}.fixed_pins`, () => [
      ...fixed.filter((f) => f.signal !== signal),
      ...(pin ? [{ id: freshId(), signal, pin }] : []),
    ]);
  return (
    <>
      {laid ? <Harness laid={laid} p={p} /> : <div className="picture-wait" />}
      <div className="scroll">
        <table className="grid-table">
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
              <th>Drop, pair</th>
            </tr>
          </thead>
          <tbody>
            {p.connections.map((c) => (
              <tr key={c.id} className={c.made ? "" : "row-open"}>
                <td>
                  <Checkbox
                    size="small"
                    checked={!leftOut.includes(c.id)}
                    onChange={(e) => toggle(c.id, e.target.checked)}
                    slotProps={{
                      input: {
                        "aria-label": `${c.signal} from ${c.start_block} ${c.start_pin} to ${c.end_block} ${c.end_pin} is made`,
                      },
                    }}
                  />
                </td>
                <td>
                  {c.start_block} <b>{c.start_pin}</b>
                </td>
                <td>
                  {c.end_block} <b>{c.end_pin}</b>
                </td>
                <td>{c.signal}</td>
                <td className="num">{c.gauge}</td>
                <td>
                  <span className={`swatch wire-${c.colour}`} aria-hidden="true" /> {c.colour}
                </td>
                <td className="num">{c.length}</td>
                <td className="num">{c.drop}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {p.pins.length > 0 && (
        <div className="scroll">
          <table className="grid-table">
            <caption>Controller pins</caption>
            <thead>
              <tr>
                <th>Signal</th>
                <th>Needs</th>
                <th>Pin</th>
                <th>In the program</th>
                <th />
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
                  </td>
                  <td className="num">{u.program}</td>
                  <td>{u.refusal && <span className="field-error">{u.refusal}</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

import { useShell } from "@/draft/context";
import { freshId, getAt } from "@/draft/paths";
import type { Wiring } from "./layout";

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
  if (!p.pins.length) return <p className="quiet">No signal of this drive goes to a controller.</p>;
  return (
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
                <span className="print-only">{u.pin || "none"}</span>
              </td>
              <td className="num">{u.program}</td>
              <td>{u.refusal && <span className="field-error">{u.refusal}</span>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

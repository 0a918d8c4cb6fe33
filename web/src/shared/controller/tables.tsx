import Button from "@mui/material/Button";
import { useState } from "react";
import type { components } from "@/../generated/schema";
import { freshId } from "@/draft/paths";
import { TakeAway, TakeAwayHead } from "../TakeAway";
import { prescalersOf, widthOf } from "./cells";

export type Pin = components["schemas"]["Pin"];
export type Timer = components["schemas"]["Timer"];
type Ability = NonNullable<Pin["can"]>[number];
type Edit<T> = (label: string, to: T[]) => void;

const ABILITIES: [Ability, string, string][] = [
  ["digital", "on/off", "On and off"],
  ["pwm", "PWM", "PWM"],
  ["interrupt", "int.", "Interrupt of its own"],
  ["change", "shared", "Interrupt shared with its port"],
  ["analogue", "analog", "Analogue input"],
  ["bus", "bus", "Bus"],
  ["serial", "serial", "Serial line over which the program is loaded"],
  ["input only", "in only", "Input only"],
  ["boot", "start", "Read at start-up"],
  ["lamp", "lamp", "Carries the board’s lamp"],
  ["absent", "absent", "Not brought out"],
];

/** A text cell; what cannot be read stays in the cell, marked, until it can. */
function Cell<T>({
  label,
  value,
  read,
  onRead,
  wide = false,
}: {
  label: string;
  value: string;
  read: (text: string) => T | null;
  onRead: (value: T) => void;
  wide?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      className={wide ? "cell cell-wide" : "cell"}
      aria-label={label}
      aria-invalid={typed !== null}
      value={typed ?? value}
      maxLength={80}
      autoComplete="off"
      onChange={(e) => {
        const found = read(e.target.value);
        setTyped(found === null ? e.target.value : null);
        if (found !== null) onRead(found);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}

const asIs = (most: number) => (text: string) => (text.length <= most ? text : null);

const put = <T extends { id: string }>(list: T[], id: string, part: Partial<T>): T[] =>
  list.map((x) => (x.id === id ? { ...x, ...part } : x));

/** The timers that make pulses. */
export function Timers({ timers, onEdit }: { timers: Timer[]; onEdit: Edit<Timer> }) {
  const set = (t: Timer, part: Partial<Timer>) => onEdit(`Timer ${t.name}`, put(timers, t.id, part));
  const blank = { bits: 16, prescalers: [1], free_top: true, kept_for: "" };
  const add = () => onEdit("Add a timer", [...timers, { ...blank, id: freshId(), name: `Timer ${timers.length}` }]);
  return (
    <section aria-label="Timers">
      <h3>Timers</h3>
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              {["Name", "Width, bits", "Prescalers", "Top of the count", "Kept for"].map((h) => (
                <th key={h} scope="col">
                  {h}
                </th>
              ))}
              <TakeAwayHead />
            </tr>
          </thead>
          <tbody>
            {timers.map((t) => (
              <tr key={t.id}>
                <td>
                  <Cell
                    wide
                    label={`Name of ${t.name}`}
                    value={t.name ?? ""}
                    read={asIs(40)}
                    onRead={(name) => set(t, { name })}
                  />
                </td>
                <td>
                  <Cell
                    label={`Width of ${t.name}`}
                    value={String(t.bits)}
                    read={widthOf}
                    onRead={(bits) => set(t, { bits })}
                  />
                </td>
                <td>
                  <Cell
                    wide
                    label={`Prescalers of ${t.name}`}
                    value={(t.prescalers ?? []).join(" ")}
                    read={prescalersOf}
                    onRead={(prescalers) => set(t, { prescalers })}
                  />
                </td>
                <td>
                  <select
                    className="field-choice"
                    aria-label={`Top of ${t.name}`}
                    value={t.free_top === false ? "fixed" : "free"}
                    onChange={(e) => set(t, { free_top: e.target.value === "free" })}
                  >
                    <option value="free">can be chosen</option>
                    <option value="fixed">is fixed</option>
                  </select>
                </td>
                <td>
                  <Cell
                    wide
                    label={`${t.name} is kept for`}
                    value={t.kept_for ?? ""}
                    read={asIs(80)}
                    onRead={(kept_for) => set(t, { kept_for })}
                  />
                </td>
                <td>
                  <TakeAway
                    label={`Take away ${t.name}`}
                    onDrop={() =>
                      onEdit(
                        `Take away ${t.name}`,
                        timers.filter((x) => x.id !== t.id),
                      )
                    }
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button size="small" onClick={add}>
        Add a timer
      </Button>
    </section>
  );
}

type PinText = "label" | "program" | "place" | "compare" | "port" | "channel" | "page";
const PLAIN: [PinText, string, number][] = [
  ["label", "Printed", 20],
  ["program", "Program", 20],
  ["place", "Place", 8],
];
const IN_C: [PinText, string, number][] = [
  ["port", "Port", 8],
  ["compare", "Output", 8],
  ["channel", "Channel", 4],
  ["page", "Interrupt", 5],
];

const NEW_PIN: Omit<Pin, "id"> = {
  label: "",
  program: "",
  place: "",
  can: ["digital"],
  timer: "",
  port: "",
  compare: "",
  channel: "",
  page: "",
};

/** The pins: what is printed beside each, and what it can do. */
export function Pins({
  pins,
  timers,
  inC,
  wrong,
  onEdit,
}: {
  pins: Pin[];
  timers: Timer[];
  inC: boolean;
  wrong: Set<string>;
  onEdit: Edit<Pin>;
}) {
  const texts = inC ? [...PLAIN, ...IN_C] : PLAIN;
  const set = (p: Pin, part: Partial<Pin>) => onEdit(`Pin ${p.label}`, put(pins, p.id, part));
  const tick = (p: Pin, what: Ability, on: boolean) =>
    set(p, { can: on ? [...(p.can ?? []), what] : (p.can ?? []).filter((a) => a !== what) });
  const add = () => onEdit("Add a pin", [...pins, { ...NEW_PIN, id: freshId() }]);
  return (
    <section aria-label="Pins">
      <h3>Pins</h3>
      <div className="scroll-x">
        <table className="rows pins">
          <thead>
            <tr>
              {texts.map(([name, head]) => (
                <th key={name} scope="col">
                  {head}
                </th>
              ))}
              <th scope="col">Timer</th>
              {ABILITIES.map(([name, short, whole]) => (
                <th key={name} scope="col" className="turned" title={whole}>
                  <span>{short}</span>
                </th>
              ))}
              <TakeAwayHead />
            </tr>
          </thead>
          <tbody>
            {pins.map((p, i) => {
              const name = p.label || `pin ${i + 1}`;
              return (
                <tr key={p.id} className={wrong.has(`pins.${p.id}`) ? "row-wrong" : undefined}>
                  {texts.map(([key, head, most]) => (
                    <td key={key}>
                      <Cell
                        label={`${head} of ${name}`}
                        value={p[key] ?? ""}
                        read={asIs(most)}
                        onRead={(text) => set(p, { [key]: text })}
                      />
                    </td>
                  ))}
                  <td>
                    <select
                      className="field-choice"
                      aria-label={`Timer of ${name}`}
                      value={p.timer ?? ""}
                      onChange={(e) => set(p, { timer: e.target.value })}
                    >
                      <option value="">none</option>
                      {timers.map((t) => (
                        <option key={t.id} value={t.id}>
                          {t.name}
                        </option>
                      ))}
                    </select>
                  </td>
                  {ABILITIES.map(([key, , whole]) => (
                    <td key={key} className="tick">
                      <input
                        type="checkbox"
                        aria-label={`${name}: ${whole}`}
                        checked={p.can?.includes(key) ?? false}
                        onChange={(e) => tick(p, key, e.target.checked)}
                      />
                    </td>
                  ))}
                  <td>
                    <TakeAway
                      label={`Take away ${name}`}
                      onDrop={() =>
                        onEdit(
                          `Take away ${name}`,
                          pins.filter((x) => x.id !== p.id),
                        )
                      }
                    />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <Button size="small" onClick={add}>
        Add a pin
      </Button>
    </section>
  );
}

import { useId } from "react";
import type { components } from "@/../generated/schema";

export type Asked = Pick<components["schemas"]["AskDesign"], "locks" | "quiet"> & {
  locks: Lock[];
  quiet: boolean;
  wishes: Record<WishName, string>;
};
export type Lock = NonNullable<components["schemas"]["AskDesign"]["locks"]>[number];
type WishName = keyof Required<components["schemas"]["DesignWishes"]>;

const VALUES: [Lock, string][] = [
  ["parallel", "Number in parallel"],
  ["gate_resistor", "Gate resistor"],
  ["frequency", "PWM frequency"],
];
const WISHES: [WishName, string, string][] = [
  ["price", "Price, at most", "€"],
  ["junction", "Junction, at most", "°C"],
  ["height", "Heat sink’s height, at most", "mm"],
  ["parallel", "In parallel, at most", "pieces"],
  ["slowest", "PWM frequency, at least", "kHz"],
  ["fastest", "PWM frequency, at most", "kHz"],
];
export const NOTHING_ASKED: Asked = {
  locks: [],
  quiet: true,
  wishes: { price: "", junction: "", height: "", parallel: "", slowest: "", fastest: "" },
};

type Props = { asked: Asked; slots: [Lock, string][]; onAsk: (asked: Asked) => void };

/** What must stay as it is, and limits of one's own. */
export function DesignAsk({ asked, slots, onAsk }: Props) {
  const id = useId();
  const lock = (key: Lock, on: boolean) =>
    onAsk({ ...asked, locks: on ? [...asked.locks, key] : asked.locks.filter((l) => l !== key) });
  return (
    <>
      <fieldset className="locks">
        <legend>Stays as it is</legend>
        {[...slots, ...VALUES].map(([key, label]) => (
          <label key={key}>
            <input type="checkbox" checked={asked.locks.includes(key)} onChange={(e) => lock(key, e.target.checked)} />{" "}
            {label}
          </label>
        ))}
      </fieldset>
      <fieldset className="locks wishes">
        <legend>Limits of your own, if you have any</legend>
        {WISHES.map(([key, label, unit]) => (
          <span key={key} className="wish">
            <label htmlFor={id + key}>{label}</label>
            <input
              id={id + key}
              value={asked.wishes[key]}
              placeholder={unit}
              maxLength={40}
              autoComplete="off"
              onChange={(e) => onAsk({ ...asked, wishes: { ...asked.wishes, [key]: e.target.value } })}
            />
          </span>
        ))}
        <label>
          <input type="checkbox" checked={asked.quiet} onChange={(e) => onAsk({ ...asked, quiet: e.target.checked })} />{" "}
          Above hearing
        </label>
      </fieldset>
    </>
  );
}

import { useSyncExternalStore } from "react";
import type { Field } from "@/api/client";

const KEPT = "all-fields";
const waiting = new Set<() => void>();

/** Whether every field is in sight, in all stations: as the builder left it in this browser. */
export const allShown = () => localStorage.getItem(KEPT) === "yes";

export function showAll(on: boolean) {
  localStorage.setItem(KEPT, on ? "yes" : "no");
  waiting.forEach((told) => told());
}

export const useAllShown = () =>
  useSyncExternalStore((told) => {
    waiting.add(told);
    return () => waiting.delete(told);
  }, allShown);

/** Whether some of these are folded: a single one is not, since the fold takes a line itself. */
export const isFolded = (fields: Field[]) => fields.filter((f) => f.aside).length > 1;

const MOST = 5;

/** Some words in a row, and how many there are beyond. */
const row = (words: string[]) =>
  words.length > MOST + 1 ? [...words.slice(0, MOST), `${words.length - MOST} others`] : words;

/** What a field holds, as short as it can be told; nothing where it holds nothing. */
function held(field: Field): string {
  if (field.text.trim() === "") return "";
  const chosen = field.options?.find((o) => o.value === field.text)?.label;
  const text = (chosen ?? field.note) || field.text;
  return `${field.label}: ${(text.split(/[:;(]|, /)[0] ?? text).trim()}`;
}

/** What stands in fields that are folded away: what they hold, and which of them are open. */
export function foldLine(fields: Field[]): { held: string; open: string } {
  const told = fields.map(held).filter(Boolean);
  const open = fields.filter((f) => held(f) === "").map((f) => f.label);
  return { held: row(told).join(" · "), open: row(open).join(", ") };
}

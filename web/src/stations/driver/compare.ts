import type { PictureOf } from "@/api/client";

export type Candidate = PictureOf<"driver">["candidates"][number];
type NumberKey = keyof Candidate["numbers"];
/** A column: a number of the part, or a check by its code. */
export type Column = { key: string; label: string; of: (c: Candidate) => number | null };

const NUMBERS: [NumberKey, string][] = [
  ["price_eur", "Price"],
  ["drop_v", "Drop"],
  ["top_speed_rad_s", "Speed, supply flat"],
  ["junction_c", "Junction"],
];

/** The columns that some candidates fill: their checks by title in the order in which they are asked, then numbers. */
export function columnsOf(candidates: Candidate[]): Column[] {
  const titles = new Map<string, string>();
  for (const c of candidates)
    for (const k of c.checks) if (k.use !== null && !titles.has(k.code)) titles.set(k.code, k.title);
  const checks = [...titles].map(([code, label]) => ({
    key: code,
    label,
    of: (c: Candidate) => c.checks.find((k) => k.code === code)?.use ?? null,
  }));
  return [...checks, ...NUMBERS.map(([key, label]) => ({ key, label, of: (c: Candidate) => c.numbers[key] }))];
}

/** The candidates by one column, the smallest first or last; what is not known stands at the end either way. */
export function sorted(candidates: Candidate[], column: Column | undefined, down: boolean): Candidate[] {
  if (!column) return candidates;
  const known = candidates.filter((c) => column.of(c) !== null);
  const rest = candidates.filter((c) => column.of(c) === null);
  known.sort((a, b) => (column.of(a)! - column.of(b)!) * (down ? -1 : 1));
  return [...known, ...rest];
}

/** How many digits tell the ticks of an axis apart: three, and more where its lines move little against what they are. */
export function digitsOf(rows: readonly (readonly (number | null)[])[]): number {
  let [low, high] = [Infinity, -Infinity];
  for (const row of rows)
    for (const v of row)
      if (v !== null) {
        low = Math.min(low, v);
        high = Math.max(high, v);
      }
  const most = Math.max(Math.abs(low), Math.abs(high));
  if (!(high > low) || !Number.isFinite(most)) return 3;
  return Math.min(Math.max(Math.ceil(Math.log10(most / (high - low))) + 2, 3), 7);
}

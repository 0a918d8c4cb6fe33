/* Sentences that ask for fields, taken apart where the names of the fields stand. */

export type Gap = { title: string; path: string };
export type Piece = { text: string; gap: Gap | null };

/** The pieces of a sentence in order: each field's name is one of its own, where it is first met. */
export function splitAtGaps(text: string, gaps: Gap[]): Piece[] {
  const found = gaps
    .map((gap) => ({ gap, at: text.indexOf(gap.title) }))
    .filter((f) => f.at >= 0)
    .sort((a, b) => a.at - b.at || b.gap.title.length - a.gap.title.length);
  const pieces: Piece[] = [];
  let end = 0;
  for (const { gap, at } of found) {
    if (at < end) continue;
    if (at > end) pieces.push({ text: text.slice(end, at), gap: null });
    end = at + gap.title.length;
    pieces.push({ text: gap.title, gap });
  }
  if (end < text.length) pieces.push({ text: text.slice(end), gap: null });
  return pieces;
}

/* Which of the trade's words stand in a sentence. */

import type { Schemas } from "@/api/client";

export type Word = Schemas["Word"];
export type Piece = { text: string; word: Word | null };

type Names = { pattern: RegExp; of: Map<string, Word> };

const escaped = (name: string) => name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** What is looked for: every name of every word that means nothing else, the longest first. */
export function namesOf(words: readonly Word[]): Names {
  const of = new Map<string, Word>();
  for (const word of words)
    if (!word.plain)
      for (const name of [...word.term.split(", "), ...word.also])
        if (name.length > 2) of.set(name.toLowerCase(), word);
  const names = [...of.keys()].sort((a, b) => b.length - a.length).map(escaped);
  // A plural is the same word; a letter before or behind makes it another one.
  const pattern = new RegExp(`(?<![\\p{L}\\d])(?:${names.join("|") || "(?!)"})(?=s?(?![\\p{L}\\d]))`, "giu");
  return { pattern, of };
}

/** A sentence in pieces: each word where it is met first, and the text between. */
export function piecesOf(text: string, { pattern, of }: Names): Piece[] {
  const pieces: Piece[] = [];
  const met = new Set<Word>();
  let from = 0;
  for (const found of text.matchAll(pattern)) {
    const word = of.get(found[0].toLowerCase());
    if (!word || met.has(word)) continue;
    met.add(word);
    if (found.index > from) pieces.push({ text: text.slice(from, found.index), word: null });
    pieces.push({ text: found[0], word });
    from = found.index + found[0].length;
  }
  if (from < text.length || pieces.length === 0) pieces.push({ text: text.slice(from), word: null });
  return pieces;
}

/** All words that stand in some texts, in their order. */
export function wordsIn(texts: readonly string[], names: Names): Word[] {
  const met = new Set<Word>();
  for (const text of texts) for (const piece of piecesOf(text, names)) if (piece.word) met.add(piece.word);
  return [...met];
}

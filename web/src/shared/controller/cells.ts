/* Numbers of a timer as they are typed; null while they cannot be read. */

const WHOLE = /^\d{1,5}$/;

/** A timer's width: 4 to 32 bits. */
export function widthOf(text: string): number | null {
  const bits = WHOLE.test(text.trim()) ? Number(text) : 0;
  return bits >= 4 && bits <= 32 ? bits : null;
}

/** Prescalers: whole numbers from 1 to 65536, none twice, with spaces or commas between them. */
export function prescalersOf(text: string): number[] | null {
  const words = text.split(/[\s,]+/).filter(Boolean);
  const found = words.map(Number);
  const sound = words.every((w) => WHOLE.test(w)) && found.every((n) => n >= 1 && n <= 65536);
  return sound && found.length > 0 && found.length <= 20 && new Set(found).size === found.length ? found : null;
}

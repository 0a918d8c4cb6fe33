/** A quantity's text with its last written place moved by `by`: `12.5 V` goes to `12.6 V`, `131` to `132`.
 *  A comma before three digits may part thousands or be a decimal sign: such a text stays as it is. */
export function nudge(text: string, by: number): string {
  const found = /^\s*-?\d+(?:([.,])(\d+))?/.exec(text);
  if (!found) return text;
  const [head, sign = ".", decimals = ""] = found;
  if (sign === "," && decimals.length === 3) return text;
  const places = decimals.length;
  const next = (Math.round(Number(head.replace(",", ".")) * 10 ** places) + by) / 10 ** places;
  return next.toFixed(places).replace(".", sign) + text.slice(head.length);
}

/* Where designs stand in the picture of what cannot be had together: price along, heat up. */

export type Scores = { price_eur: number | null; heat_w: number; use: number };
export type Spot = { index: number; x: number; y: number };
export type Tick = { at: number; text: string };

const text = (v: number) => Number(v.toPrecision(3)).toString();

/** Round values between two ends, three to six of them. */
export function ticksOf(low: number, high: number): number[] {
  if (!(high > low)) return [low];
  const ten = 10 ** Math.floor(Math.log10((high - low) / 4));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * ten).find((s) => (high - low) / s <= 6) ?? 10 * ten;
  const found: number[] = [];
  for (let n = Math.ceil(low / step - 1e-9); n * step <= high * (1 + 1e-9); n++) found.push(n * step);
  return found;
}

type Scale = { low: number; high: number };

function scaleOf(values: number[]): Scale {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = (most - least || most || 1) * 0.12;
  return { low: Math.max(least - room, 0), high: most + room };
}

/** The designs whose price is known, as places in a box of this size, and round values along its sides. */
export function placed(designs: Scores[], width: number, height: number) {
  const known = designs.flatMap((d, index) => (d.price_eur === null ? [] : [{ ...d, price: d.price_eur, index }]));
  if (known.length === 0) return { spots: [] as Spot[], prices: [] as Tick[], heats: [] as Tick[] };
  const price = scaleOf(known.map((d) => d.price));
  const heat = scaleOf(known.map((d) => d.heat_w));
  const x = (v: number) => ((v - price.low) / (price.high - price.low)) * width;
  const y = (v: number) => height - ((v - heat.low) / (heat.high - heat.low)) * height;
  return {
    spots: known.map((d) => ({ index: d.index, x: x(d.price), y: y(d.heat_w) })),
    prices: ticksOf(price.low, price.high).map((v) => ({ at: x(v), text: text(v) })),
    heats: ticksOf(heat.low, heat.high).map((v) => ({ at: y(v), text: text(v) })),
  };
}

/* The colours of the app, told once: the component library's palette and the style sheets' variables follow. */

const light = {
  page: "#e9eded",
  card: "#dde3e4",
  sheet: "#fafbfb",
  rule: "#b9c3c6",
  hair: "#dce2e3",
  wash: "#f1f4f4",
  ink: "#172023",
  ink2: "#4a585c",
  ink3: "#59676b",
  brass: "#7a5a12",
  brassfill: "#c49a3a",
  brasswash: "#f4ecd9",
  onbrass: "#ffffff",
  stop: "#a3231b",
  stopfill: "#a3231b",
  stopwash: "#f8e4e1",
  "on-stop": "#ffffff",
  tight: "#96440a",
  tightfill: "#b0500f",
  tightfill2: "#d98042",
  hold: "#1f6a58",
  barfill: "#8b9a9e",
  p1: "#0068a3",
  p2: "#b44b00",
  p3: "#007a5a",
  p4: "#7f4573",
};

export type Tokens = typeof light;

const dark: Tokens = {
  page: "#14191b",
  card: "#1b2224",
  sheet: "#1f2729",
  rule: "#475558",
  hair: "#2e383b",
  wash: "#273134",
  ink: "#e8eeef",
  ink2: "#b3c0c3",
  ink3: "#9dabaf",
  brass: "#e0b65a",
  brassfill: "#c49a3a",
  brasswash: "#362d18",
  onbrass: "#1b1608",
  stop: "#ff9a8f",
  stopfill: "#b5382f",
  stopwash: "#3c211f",
  "on-stop": "#ffffff",
  tight: "#f0a35e",
  tightfill: "#c26a22",
  tightfill2: "#8f4a12",
  hold: "#6cc7ae",
  barfill: "#74858a",
  p1: "#62b6ea",
  p2: "#f08f52",
  p3: "#45c99f",
  p4: "#d3a2c9",
};

export const tokens = { light, dark };

/** The tokens of a scheme as custom properties: `--ink`, `--brass` … */
export function variables(of: Tokens): Record<string, string> {
  return Object.fromEntries(Object.entries(of).map(([name, value]) => [`--${name}`, value]));
}

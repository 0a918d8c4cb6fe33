import { expect, test } from "vitest";
import type { Drawn, Laid } from "./layout";
import { labelsOf, laidMarks, plugsOf, strokeOf } from "./marks";

type Wire = Drawn["connections"][number];
const wire = (id: string, more: Partial<Wire> = {}) =>
  ({ id, length: "0.5 m", gauge: "AWG 20", ends: "fixed", turns: false, laid: "", ...more }) as Wire;
const run = (id: string, y: number, from = 0, to = 300) => ({
  id,
  d: "",
  net: "",
  colour: "red",
  stripe: "",
  points: [
    { x: from, y },
    { x: to, y },
  ],
});
const laid = (...wires: ReturnType<typeof run>[]): Laid => ({ width: 300, height: 300, parts: [], wires });

test("a length stands above its wire, and on no other", () => {
  const found = labelsOf(laid(run("a", 50), run("b", 59), run("c", 120)), [wire("a"), wire("b"), wire("c")]);
  // Between two wires nine points apart there is no room: only the upper one and the lone one are told.
  expect(found.map((x) => x.id)).toEqual(["a", "c"]);
  expect(found[0]).toMatchObject({ text: "0.5 m, AWG 20", x: 150 });
});

test("a short piece and an unknown length are not told", () => {
  expect(labelsOf(laid(run("a", 50, 0, 60), run("b", 100)), [wire("a"), wire("b", { length: "" })])).toEqual([]);
});

test("a plug stands at both ends of what is pulled, one that can be turned is told apart", () => {
  const found = plugsOf(laid(run("a", 50), run("b", 90)), [
    wire("a", { ends: "plug" }),
    wire("b", { ends: "plug", turns: true }),
  ]);
  expect(found.map((x) => [x.x, x.kind])).toEqual([
    [11, "plug"],
    [289, "plug"],
    [11, "plug-turns"],
    [289, "plug-turns"],
  ]);
  expect(plugsOf(laid(run("a", 50)), [wire("a")])).toEqual([]);
});

test("thick wire is drawn thick, between bounds", () => {
  // AWG 20 has 0.81 mm, AWG 12 has 2.05 mm.
  expect(strokeOf(0.81)).toBeLessThan(strokeOf(2.05));
  expect(strokeOf(0)).toBe(2.2);
  expect(strokeOf(9)).toBe(5.4);
});

test("what is twisted has its mark in the middle of its longest piece", () => {
  expect(laidMarks(laid(run("a", 50), run("b", 90)), [wire("a", { laid: "twisted" }), wire("b")])).toEqual([
    { id: "a", x: 150, y: 50, level: true, how: "twisted" },
  ]);
});

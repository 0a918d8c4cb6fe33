import { expect, test } from "vitest";
import { splitAtGaps } from "./gaps";

const gap = (title: string) => ({ title, path: `p.${title}` });

test("each name is a piece, and the pieces are the sentence", () => {
  const text = "Not known yet: give Rotor inertia, Mass that turns and 2 more.";
  const pieces = splitAtGaps(text, [gap("Mass that turns"), gap("Rotor inertia")]);
  expect(pieces.map((p) => p.text).join("")).toBe(text);
  expect(pieces.filter((p) => p.gap).map((p) => p.text)).toEqual(["Rotor inertia", "Mass that turns"]);
});

test("a name that stands in another one is not cut out of it", () => {
  const text = "Not known yet: give Mass that turns.";
  const pieces = splitAtGaps(text, [gap("Mass"), gap("Mass that turns")]);
  expect(pieces.map((p) => p.text)).toEqual(["Not known yet: give ", "Mass that turns", "."]);
});

test("a name that the sentence does not hold leads nowhere, and nothing is lost", () => {
  expect(splitAtGaps("It runs away.", [gap("Mass")])).toEqual([{ text: "It runs away.", gap: null }]);
  expect(splitAtGaps("", [gap("Mass")])).toEqual([]);
});

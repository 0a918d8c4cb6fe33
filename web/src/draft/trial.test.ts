import { describe, expect, it } from "vitest";
import { nothingYet, stepped } from "./history";
import { begun, exchanged, forgetTrial, keepTrial, keptHistory, readTrial } from "./trial";

function shelf(most = Infinity) {
  const held = new Map<string, string>();
  return {
    getItem: (k: string) => held.get(k) ?? null,
    setItem: (k: string, v: string) => {
      if (v.length > most) throw new Error("full");
      held.set(k, v);
    },
    removeItem: (k: string) => void held.delete(k),
  };
}

describe("a try", () => {
  it("is one step when it is kept, and what stood before it can still be undone", () => {
    const before = stepped(nothingYet<string>(), "a", "first");
    const made = keptHistory(begun("b", before));
    expect(made.past.map((s) => s.draft)).toEqual(["a", "b"]);
    expect(made.future).toEqual([]);
  });

  it("begins another from the build as it is, and exchanges two", () => {
    const one = exchanged(begun("base", nothingYet<string>()), "first");
    expect(one.now).toBe("base");
    const two = exchanged(one.trial, "second");
    expect(two.now).toBe("first");
    expect(two.trial.aside).toBe("second");
    expect(two.trial.base).toBe("base");
  });

  it("is kept by its tab, and told apart once the build was saved otherwise", () => {
    const place = shelf();
    keepTrial("x", { trial: begun({ v: 1 }, nothingYet<{ v: number }>()), now: { v: 2 }, at: "" }, place);
    expect(readTrial("x", { v: 1 }, place)).toMatchObject({ now: { v: 2 }, stands: true });
    expect(readTrial("x", { v: 3 }, place)).toMatchObject({ now: { v: 2 }, stands: false });
    forgetTrial("x", place);
    expect(readTrial("x", { v: 1 }, place)).toBeNull();
  });

  it("is not half kept where there is no room, and what is no try is none", () => {
    const place = shelf(5);
    keepTrial("x", { trial: begun("long", nothingYet<string>()), now: "longer", at: "" }, place);
    expect(readTrial("x", "long", place)).toBeNull();
    place.setItem("try:y", "{}");
    expect(readTrial("y", "long", place)).toBeNull();
  });
});

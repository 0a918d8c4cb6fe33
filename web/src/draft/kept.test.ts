import { describe, expect, it } from "vitest";
import { age, forgetTyped, keepTyped, placeOf, readTyped } from "./kept";

function shelf(room = 1e6) {
  const held = new Map<string, string>();
  return {
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, text: string) => {
      if (text.length > room) throw new DOMException("full", "QuotaExceededError");
      held.set(key, text);
    },
    removeItem: (key: string) => void held.delete(key),
    key: (i: number) => [...held.keys()][i] ?? null,
    get length() {
      return held.size;
    },
  };
}

describe("what is typed", () => {
  it("is offered again until it is forgotten, and only where it differs from what is saved", () => {
    const own = shelf();
    expect(keepTyped(placeOf("a", "1"), { body: { name: "typed" }, version: 3, at: "2026-11-26T10:00:00Z" }, own)).toBe(
      true,
    );
    expect(readTyped("a", { name: "saved" }, own)).toMatchObject({ version: 3, body: { name: "typed" } });
    expect(readTyped("a", { name: "typed" }, own)).toBeNull();
    expect(readTyped("b", { name: "saved" }, own)).toBeNull();
    forgetTyped(placeOf("a", "1"), own);
    expect(readTyped("a", { name: "saved" }, own)).toBeNull();
  });

  it("of two tabs on one build is kept apart, and the newest is offered first", () => {
    const own = shelf();
    const at = (minute: number) => `2026-11-26T10:0${minute}:00Z`;
    keepTyped(placeOf("a", "1"), { body: "left", version: 3, at: at(2) }, own);
    keepTyped(placeOf("a", "2"), { body: "right", version: 3, at: at(1) }, own);
    keepTyped(placeOf("ab", "3"), { body: "another build", version: 3, at: at(5) }, own);
    const first = readTyped("a", "saved", own);
    expect(first?.body).toBe("left");
    forgetTyped(first?.place ?? "", own);
    expect(readTyped("a", "saved", own)?.body).toBe("right");
    expect(readTyped("a", "right", own)).toBeNull();
  });

  it("is not half kept where there is no room, and what cannot be read is nothing", () => {
    const own = shelf(10);
    expect(keepTyped(placeOf("a", "1"), { body: "a long text indeed", version: 1, at: "" }, own)).toBe(false);
    own.setItem(placeOf("a", "1"), "{half");
    expect(readTyped("a", "saved", own)).toBeNull();
    own.setItem(placeOf("a", "1"), "[]");
    expect(readTyped("a", "saved", own)).toBeNull();
  });

  it("has an age", () => {
    const now = new Date("2026-11-26T12:00:00Z").getTime();
    const at = (minutes: number) => age(new Date(now - minutes * 60000).toISOString(), now);
    expect([0, 5, 89, 120, 3000].map(at)).toEqual(["a moment ago", "5 min ago", "89 min ago", "2 h ago", "2 days ago"]);
  });
});

import { describe, expect, it } from "vitest";
import { keepHistory, MOST_STEPS, moved, nothingYet, readHistory, stepped } from "./history";

class Drawer implements Pick<Storage, "getItem" | "setItem" | "removeItem"> {
  kept = new Map<string, string>();
  full = false;
  getItem = (key: string) => this.kept.get(key) ?? null;
  removeItem = (key: string) => void this.kept.delete(key);
  setItem = (key: string, value: string) => {
    if (this.full) throw new DOMException("no room", "QuotaExceededError");
    this.kept.set(key, value);
  };
}

describe("undo and redo", () => {
  it("brings back each draft in turn, both ways", () => {
    let history = stepped(stepped(nothingYet<number>(), 1, "one"), 2, "two");
    const back = moved(history, "past", 3);
    expect(back?.draft).toBe(2);
    history = back!.history;
    const again = moved(history, "past", 2);
    expect(again?.draft).toBe(1);
    const forth = moved(again!.history, "future", 1);
    expect(forth?.draft).toBe(2);
    expect(moved(forth!.history, "future", 2)?.draft).toBe(3);
  });

  it("forgets what was undone once something else is done", () => {
    const back = moved(stepped(nothingYet<number>(), 1, "one"), "past", 2)!;
    expect(stepped(back.history, 1, "other").future).toEqual([]);
  });

  it("keeps the newest steps of a long past", () => {
    let history = nothingYet<number>();
    for (let i = 0; i < MOST_STEPS + 5; i++) history = stepped(history, i, String(i));
    expect(history.past.length).toBe(MOST_STEPS);
    expect(history.past[0]?.draft).toBe(5);
  });

  it("has nothing to undo at first", () => expect(moved(nothingYet<number>(), "past", 1)).toBeNull());
});

describe("the history that a tab keeps", () => {
  it("is read as it was kept, build by build", () => {
    const drawer = new Drawer();
    keepHistory("a", stepped(nothingYet<number>(), 1, "one"), drawer);
    expect(readHistory<number>("a", drawer).past[0]?.label).toBe("one");
    expect(readHistory<number>("b", drawer)).toEqual(nothingYet());
  });

  it("is empty where what was kept cannot be read", () => {
    const drawer = new Drawer();
    drawer.kept.set("undo:a", "{not json");
    expect(readHistory("a", drawer)).toEqual(nothingYet());
    drawer.kept.set("undo:a", '{"past": 3}');
    expect(readHistory("a", drawer)).toEqual(nothingYet());
  });

  it("is dropped whole where there is no room", () => {
    const drawer = new Drawer();
    keepHistory("a", stepped(nothingYet<number>(), 1, "one"), drawer);
    drawer.full = true;
    keepHistory("a", stepped(nothingYet<number>(), 2, "two"), drawer);
    expect(readHistory("a", drawer)).toEqual(nothingYet());
  });
});

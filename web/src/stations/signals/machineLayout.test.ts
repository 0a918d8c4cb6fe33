import { describe, expect, it } from "vitest";
import { BOX_HEIGHT, BOX_WIDTH, LETTER, LINE_HEIGHT, layMachine, linesOf, ways } from "./machineLayout";

const mode = (name: string, from_everywhere = false) => ({
  name,
  title: name,
  says: name,
  action: "off" as const,
  from_everywhere,
});
const panel = {
  modes: [mode("waiting"), mode("idle"), mode("forward"), mode("back"), mode("resting"), mode("stopped", true)],
  edges: [
    ["waiting", "idle"],
    ["idle", "forward"],
    ["idle", "forward"],
    ["idle", "back"],
    ["forward", "resting"],
    ["back", "resting"],
    ["resting", "idle"],
    ["forward", "stopped"],
    ["back", "stopped"],
    ["stopped", "resting"],
  ].map(([start, end], i) => ({ start: start!, end: end!, says: `reason ${i}` })),
};

describe("the panel's machine", () => {
  it("has one way for each pair, with all its reasons, and none to where everything leads", () => {
    const found = ways(panel);
    expect(found).toHaveLength(7);
    expect(found.find((w) => w.start === "idle" && w.end === "forward")?.says).toEqual(["reason 1", "reason 2"]);
    expect(found.some((w) => w.end === "stopped")).toBe(false);
    expect(found.some((w) => w.start === "stopped")).toBe(true);
  });

  it("tells each condition beside its arrow, in lines", () => {
    expect(linesOf(["the handset that has it in hand is silent", "it has come to rest"])).toEqual([
      "the handset",
      "that has it in",
      "hand is silent",
      "or it has come",
      "to rest",
    ]);
  });

  it("is laid out so that no two modes lie over one another, and every way is drawn inside", async () => {
    const laid = await layMachine(panel);
    expect(laid.boxes).toHaveLength(panel.modes.length);
    for (const [i, a] of laid.boxes.entries())
      for (const b of laid.boxes.slice(i + 1))
        expect(Math.abs(a.x - b.x) >= BOX_WIDTH || Math.abs(a.y - b.y) >= BOX_HEIGHT, `${a.name} and ${b.name}`).toBe(
          true,
        );
    const words = laid.ways.map((w) => ({
      ...w.words,
      wide: Math.max(...w.words.lines.map((line) => line.length)) * LETTER,
      high: w.words.lines.length * LINE_HEIGHT,
    }));
    for (const [i, a] of words.entries()) {
      expect(a.x + a.wide).toBeLessThanOrEqual(laid.width);
      for (const b of laid.boxes)
        expect(
          a.x + a.wide <= b.x || b.x + BOX_WIDTH <= a.x || a.y + a.high <= b.y || b.y + BOX_HEIGHT <= a.y,
          `${a.lines.join(" ")} on ${b.name}`,
        ).toBe(true);
      for (const b of words.slice(i + 1))
        expect(
          a.x + a.wide <= b.x || b.x + b.wide <= a.x || a.y + a.high <= b.y || b.y + b.high <= a.y,
          `${a.lines.join(" ")} on ${b.lines.join(" ")}`,
        ).toBe(true);
    }
    for (const w of laid.ways) {
      const numbers = [...w.d.matchAll(/[ML]([\d.]+) ([\d.]+)/g)];
      expect(numbers.length, `${w.start} to ${w.end}`).toBeGreaterThan(1);
      for (const [, x, y] of numbers) {
        expect(Number(x)).toBeLessThanOrEqual(laid.width);
        expect(Number(y)).toBeLessThanOrEqual(laid.height);
      }
    }
  });
});

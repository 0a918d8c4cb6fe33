import { describe, expect, it } from "vitest";
import { Newest } from "./newest";

function bench() {
  const sent: { question: number; answer: (text: string) => void; fail: (error: Error) => void }[] = [];
  const shown: string[] = [];
  const failures: string[] = [];
  const asker = new Newest<number, string>(
    (question) => new Promise((answer, fail) => sent.push({ question, answer, fail })),
    (answer) => shown.push(answer),
    (error) => failures.push((error as Error).message),
  );
  return { sent, shown, failures, asker };
}

const settle = async () => {
  for (let i = 0; i < 8; i++) await Promise.resolve();
};

describe("the newest question", () => {
  it("goes next, those between are forgotten, and a late answer is never shown", async () => {
    const { sent, shown, asker } = bench();
    void asker.ask(1);
    void asker.ask(2);
    void asker.ask(3);
    expect(sent.map((x) => x.question)).toEqual([1]);
    sent[0]!.answer("one");
    await settle();
    expect(shown).toEqual([]);
    expect(sent.map((x) => x.question)).toEqual([1, 3]);
    sent[1]!.answer("three");
    await settle();
    expect(shown).toEqual(["three"]);
  });

  it("is asked though the one before it failed", async () => {
    const { sent, shown, failures, asker } = bench();
    void asker.ask(1);
    void asker.ask(2);
    sent[0]!.fail(new Error("away"));
    await settle();
    expect(failures).toEqual(["away"]);
    sent[1]!.answer("two");
    await settle();
    expect(shown).toEqual(["two"]);
    void asker.ask(3);
    expect(sent.length).toBe(3);
  });
});

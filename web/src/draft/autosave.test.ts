import { describe, expect, it } from "vitest";
import { Autosave, RETRY_AFTER_MS, SAVE_AFTER_MS, type Failure, type Joint, type Report, type Saved } from "./autosave";

/** A service whose saves are answered when the test says so, and a clock that it turns. */
class Bench {
  asked: {
    version: number;
    body: string;
    sibling: boolean;
    answer: (saved: Saved) => void;
    refuse: (failure: Failure) => void;
  }[] = [];
  merges: { base: string; mine: string; answer: (joint: Joint<string>) => void; refuse: (failure: Failure) => void }[] =
    [];
  /** What another tab's edits made of the draft. */
  drawn: string[] = [];
  reports: Report[] = [];
  waiting: { ms: number; work: () => void }[] = [];
  /** What this browser keeps of it, with its version; null once it is acknowledged. */
  kept: [number, string] | null = null;
  saver: Autosave<string>;

  constructor(body = "first", version = 7) {
    this.saver = new Autosave(
      { body, version, savedAt: "then" },
      {
        save: (of, text, sibling) =>
          new Promise<Saved>((answer, refuse) => this.asked.push({ version: of, body: text, sibling, answer, refuse })),
        merge: (base, mine) =>
          new Promise<Joint<string>>((answer, refuse) => this.merges.push({ base, mine, answer, refuse })),
        merged: (text) => this.drawn.push(text),
        later: (ms, work) => {
          const entry = { ms, work };
          this.waiting.push(entry);
          return () => {
            this.waiting = this.waiting.filter((x) => x !== entry);
          };
        },
        keep: (of, text) => (this.kept = [of, text]),
        forget: () => (this.kept = null),
        report: (told) => this.reports.push(told),
      },
    );
  }

  get state() {
    return this.reports.at(-1)!;
  }

  /** The time that one thing waits for is up. */
  tick(): number {
    const { ms, work } = this.waiting.shift()!;
    work();
    return ms;
  }
}

const settle = async () => {
  for (let i = 0; i < 8; i++) await Promise.resolve();
};

/** A draft whose save came after another tab's. */
async function beaten(text: string): Promise<Bench> {
  const bench = new Bench();
  bench.saver.edited(text);
  bench.tick();
  await settle();
  bench.asked[0]!.refuse({ status: 409, message: "" });
  await settle();
  return bench;
}

describe("autosave", () => {
  it("saves once after a rest, with the version it loaded, and takes the new one", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.saver.edited("ab");
    expect(bench.state.state).toBe("typing");
    expect(bench.waiting.length).toBe(1);
    expect(bench.tick()).toBe(SAVE_AFTER_MS);
    await settle();
    expect(bench.asked.map((x) => [x.version, x.body])).toEqual([[7, "ab"]]);
    bench.asked[0]!.answer({ version: 8, saved_at: "now" });
    await settle();
    expect(bench.state).toMatchObject({ state: "saved", savedAt: "now" });
    bench.saver.edited("abc");
    bench.tick();
    await settle();
    expect(bench.asked[1]?.version).toBe(8);
  });

  it("saves what is typed meanwhile after the save that is under way, never beside it", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.tick();
    await settle();
    bench.saver.edited("ab");
    const flushed = bench.saver.flush();
    await settle();
    expect(bench.asked.length).toBe(1);
    bench.asked[0]!.answer({ version: 8, saved_at: "now" });
    await settle();
    expect(bench.asked.map((x) => [x.version, x.body])).toEqual([
      [7, "a"],
      [8, "ab"],
    ]);
    bench.asked[1]!.answer({ version: 9, saved_at: "later" });
    expect(await flushed).toBe(true);
    expect(bench.saver.pending).toBe(false);
  });

  it("does not call it saved while a newer draft waits", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.tick();
    await settle();
    bench.saver.edited("ab");
    bench.asked[0]!.answer({ version: 8, saved_at: "now" });
    await settle();
    expect(bench.state.state).toBe("typing");
    expect(bench.saver.pending).toBe(true);
    expect(bench.waiting.length).toBe(1);
  });

  it("tries again when nobody answers, and loses nothing", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.tick();
    await settle();
    bench.asked[0]!.refuse({ status: 0, message: "The service does not answer." });
    await settle();
    expect(bench.state.state).toBe("offline");
    expect(bench.tick()).toBe(RETRY_AFTER_MS);
    await settle();
    expect(bench.asked[1]).toMatchObject({ version: 7, body: "a" });
  });

  it("keeps what is typed until all of it is acknowledged", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    expect(bench.kept).toEqual([7, "a"]);
    bench.tick();
    await settle();
    bench.saver.edited("ab");
    bench.asked[0]!.answer({ version: 8, saved_at: "now" });
    await settle();
    expect(bench.kept).toEqual([8, "ab"]);
    bench.tick();
    await settle();
    bench.asked[1]!.answer({ version: 9, saved_at: "later" });
    await settle();
    expect(bench.kept).toBeNull();
  });

  it("tries again where the service fails, and tells a build that is gone", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.tick();
    await settle();
    bench.asked[0]!.refuse({ status: 503, message: "The disk is full." });
    await settle();
    expect(bench.state).toMatchObject({ state: "failing", problem: "The disk is full." });
    expect(bench.tick()).toBe(RETRY_AFTER_MS);
    await settle();
    bench.asked[1]!.refuse({ status: 404, message: "There is no such build." });
    await settle();
    expect(bench.state.state).toBe("gone");
    expect(bench.kept).toEqual([7, "a"]);
  });

  it("stops at a conflict: the other tab's work is not overwritten", async () => {
    const bench = new Bench();
    bench.saver.edited("a");
    bench.tick();
    await settle();
    const body = { sibling_id: "s", sibling_name: "First, kept" };
    bench.asked[0]!.refuse({ status: 409, message: "Somebody saved meanwhile." });
    await settle();
    bench.merges[0]!.answer({ version: 9, saved: "theirs", build: null });
    await settle();
    expect(bench.asked.map((x) => x.sibling)).toEqual([false, true]);
    bench.asked[1]!.refuse({ status: 409, message: "Somebody saved meanwhile.", body });
    await settle();
    expect(bench.state.conflict).toMatchObject({ siblingId: "s", siblingName: "First, kept" });
    bench.saver.edited("ab");
    expect(bench.waiting.length).toBe(0);
    expect(await bench.saver.flush()).toBe(false);
    expect(bench.asked.length).toBe(2);
  });

  it("takes another tab's edits in beside its own, and saves both as an edit of what is saved", async () => {
    const bench = await beaten("mine");
    expect(bench.merges[0]).toMatchObject({ base: "first", mine: "mine" });
    bench.merges[0]!.answer({ version: 9, saved: "theirs", build: "both" });
    await settle();
    expect(bench.drawn).toEqual(["both"]);
    expect(bench.kept).toEqual([9, "both"]);
    expect(bench.asked[1]).toMatchObject({ version: 9, body: "both", sibling: false });
    bench.asked[1]!.answer({ version: 10, saved_at: "now" });
    await settle();
    expect(bench.state).toMatchObject({ state: "saved", merges: 1, conflict: null });
    expect(bench.saver.of).toBe(10);
    expect(bench.kept).toBeNull();
  });

  it("brings together anew what is typed while the service is asked, and what a third tab saves", async () => {
    const bench = await beaten("a");
    bench.saver.edited("ab");
    bench.merges[0]!.answer({ version: 9, saved: "theirs", build: "a+theirs" });
    await settle();
    expect(bench.drawn).toEqual([]);
    expect(bench.merges[1]).toMatchObject({ base: "first", mine: "ab" });
    bench.merges[1]!.answer({ version: 9, saved: "theirs", build: "ab+theirs" });
    await settle();
    bench.asked[1]!.refuse({ status: 409, message: "" });
    await settle();
    expect(bench.merges[2]).toMatchObject({ base: "theirs", mine: "ab+theirs" });
    bench.merges[2]!.answer({ version: 12, saved: "third", build: "all" });
    await settle();
    bench.asked[2]!.answer({ version: 13, saved_at: "now" });
    await settle();
    expect(bench.asked.map((x) => x.version)).toEqual([7, 9, 12]);
    expect(bench.state).toMatchObject({ state: "saved", merges: 2 });
  });

  it("loses nothing where the service is gone while both are brought together", async () => {
    const bench = await beaten("a");
    bench.merges[0]!.refuse({ status: 0, message: "The service does not answer." });
    await settle();
    expect(bench.state.state).toBe("offline");
    expect(bench.saver.pending).toBe(true);
    expect(bench.kept).toEqual([7, "a"]);
    while (bench.waiting.length) bench.tick();
    await settle();
    expect(bench.asked[1]).toMatchObject({ version: 7, body: "a" });
  });

  it("keeps a refused draft and saves the next one", async () => {
    const bench = new Bench();
    bench.saver.edited("bad");
    bench.tick();
    await settle();
    bench.asked[0]!.refuse({ status: 422, message: "A name is too long." });
    await settle();
    expect(bench.state).toMatchObject({ state: "refused", problem: "A name is too long." });
    bench.saver.edited("good");
    bench.tick();
    await settle();
    expect(bench.asked[1]?.body).toBe("good");
  });

  it("keeps two builds apart, however late their answers come", async () => {
    const [one, two] = [new Bench("one", 1), new Bench("two", 40)];
    one.saver.edited("one, more");
    const left = one.saver.flush();
    two.saver.edited("two, more");
    two.tick();
    await settle();
    two.asked[0]!.answer({ version: 41, saved_at: "now" });
    one.asked[0]!.answer({ version: 2, saved_at: "now" });
    expect(await left).toBe(true);
    expect(one.asked.map((x) => [x.version, x.body])).toEqual([[1, "one, more"]]);
    expect(two.asked.map((x) => [x.version, x.body])).toEqual([[40, "two, more"]]);
  });
});

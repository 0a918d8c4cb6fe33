import { describe, expect, it } from "vitest";
import { namesOf, piecesOf, wordsIn, type Word } from "./words";

const word = (term: string, also: string[] = [], plain = false): Word => ({
  term,
  also,
  plain,
  station: "",
  says: ".",
});
const WORDS = [
  word("dead time"),
  word("on-resistance", ["RDS(on)"]),
  word("detent, cogging"),
  word("duty", ["duty cycle"]),
  word("×4 decoding", ["×1"]),
  word("working", [], true),
];
const names = namesOf(WORDS);
const met = (text: string) => wordsIn([text], names).map((w) => w.term);

describe("the words in a sentence", () => {
  it("are found whole, in any case, in the plural, and by their other names", () => {
    expect(met("Dead times and RDS(on) at each duty.")).toEqual(["dead time", "on-resistance", "duty"]);
    expect(met("Its cogging shakes.")).toEqual(["detent, cogging"]);
    expect(met("dead timer, subduty, duty1")).toEqual([]);
  });

  it("are marked once each, and the text stays whole", () => {
    const text = "The duty cycle is a duty, ×4 decoding or not; on-resistance.";
    const pieces = piecesOf(text, names);
    expect(pieces.map((p) => p.text).join("")).toBe(text);
    expect(pieces.filter((p) => p.word).map((p) => p.text)).toEqual(["duty cycle", "×4 decoding", "on-resistance"]);
  });

  it("leave plain words and texts without any alone", () => {
    expect(met("The working current.")).toEqual([]);
    expect(piecesOf("Nothing here", names)).toEqual([{ text: "Nothing here", word: null }]);
    expect(piecesOf("", names)).toEqual([{ text: "", word: null }]);
    expect(met("x")).toEqual([]);
    expect(wordsIn(["duty"], namesOf([]))).toEqual([]);
  });
});

import type { components } from "@/../generated/schema";

export type Taken = components["schemas"]["PartsTaken"];
export type Listed = { id: string; name?: string; sample?: boolean };

/** One class of the shelf: where its parts are listed, checked, added, taken away, and how their files are named. */
export type Source = {
  title: string;
  one: string;
  blank: Record<string, unknown>;
  check: (part: Record<string, unknown>) => Promise<components["schemas"]["PartForm"]>;
  add: (part: Record<string, unknown>) => Promise<Listed>;
  correct: (id: string, part: Record<string, unknown>) => Promise<Listed>;
  drop: (id: string) => Promise<unknown>;
  importAddress: (kind: "csv" | "json", keepGood: boolean) => string;
  exportAddress: (kind: "csv" | "json") => string;
  file: string;
  /** Whether a build knows which entry its copy is of; of some only the figures are copied. */
  traced: boolean;
};

import type { PictureOf } from "@/api/client";

export type Step = PictureOf<"bench">["steps"][number];

export function markOf(step: Step): string {
  if (!step.reading) return "open";
  if (step.stale.length > 0) return "stale";
  return step.verdict;
}

export const MARKS: Record<string, string> = {
  open: "to do",
  stale: "stale",
  pass: "✓ pass",
  doubtful: "? doubtful",
  fail: "✕ fail",
  skipped: "skipped",
};
/** The tick under which a step stands that is left out on purpose. */
export const skipOf = (drive: string, step: string) => `skip:${drive}:${step}`;

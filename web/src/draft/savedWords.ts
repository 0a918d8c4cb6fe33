import type { DraftHandle } from "@/draft/useDraft";

const time = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** The state of saving, in words. */
export function savedWords(draft: DraftHandle): string {
  if (draft.trial) return "Trying: not saved";
  switch (draft.save) {
    case "saved":
      return draft.savedAt ? `Saved ${time.format(new Date(draft.savedAt))}` : "Saved";
    case "typing":
    case "saving":
      return "Saving …";
    case "offline":
      return "Not saved: the service does not answer. Trying again.";
    case "failing":
      return `Not saved: ${draft.problem} Trying again.`;
    case "gone":
      return "Not saved: this build was deleted.";
    case "refused":
      return `Not saved: ${draft.problem}`;
    case "conflict":
      return "Not saved: another tab was first.";
  }
}

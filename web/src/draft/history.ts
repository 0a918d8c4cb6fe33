/* What can be undone: the drafts before each step, and those undone, newest last. */

export type Step<T> = { draft: T; label: string };
export type History<T> = { past: Step<T>[]; future: Step<T>[] };

export const MOST_STEPS = 60;

export function nothingYet<T>(): History<T> {
  return { past: [], future: [] };
}

/** A step more: what was undone is gone, and of a long past the oldest. */
export function stepped<T>(history: History<T>, before: T, label: string): History<T> {
  return { past: [...history.past, { draft: before, label }].slice(-MOST_STEPS), future: [] };
}

/** The draft that undoing (or redoing) brings back, and the history after it; null where there is none. */
export function moved<T>(
  history: History<T>,
  from: "past" | "future",
  now: T,
): { draft: T; history: History<T> } | null {
  const found = history[from].at(-1);
  if (!found) return null;
  const to = from === "past" ? "future" : "past";
  const next = {
    ...history,
    [from]: history[from].slice(0, -1),
    [to]: [...history[to], { draft: now, label: found.label }],
  };
  return { draft: found.draft, history: next };
}

type Shelf = Pick<Storage, "getItem" | "setItem" | "removeItem">;

/** The history of a build as this tab kept it; empty where it kept none, or none that can be read. */
export function readHistory<T>(id: string, shelf: Shelf): History<T> {
  try {
    const kept = JSON.parse(shelf.getItem(`undo:${id}`) ?? "") as History<T>;
    return Array.isArray(kept.past) && Array.isArray(kept.future) ? kept : nothingYet();
  } catch {
    return nothingYet();
  }
}

/** Keeps a history for this tab; where there is no room, none is kept rather than half of one. */
export function keepHistory<T>(id: string, history: History<T>, shelf: Shelf): void {
  try {
    shelf.setItem(`undo:${id}`, JSON.stringify(history));
  } catch {
    shelf.removeItem(`undo:${id}`);
  }
}

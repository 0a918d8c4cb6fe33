/* A try: the build is edited as ever, but nothing of it is saved until it is kept as one step. */

import { type History, stepped } from "./history";

/** `base` is the build as it is, `history` what could be undone in it; `aside` another try, set aside to compare. */
export type Trial<T> = { base: T; history: History<T>; aside: T | null };
export type KeptTrial<T> = { trial: Trial<T>; now: T; at: string };

type Shelf = Pick<Storage, "getItem" | "setItem" | "removeItem">;

export const TRYING = "A try is open: keep it or drop it first.";

export function begun<T>(base: T, history: History<T>): Trial<T> {
  return { base, history, aside: null };
}

/** What can be undone once a try is kept: all of it, as one step. */
export function keptHistory<T>(trial: Trial<T>): History<T> {
  return stepped(trial.history, trial.base, "the try");
}

/** This try set aside and the other one taken up; where there is none, the build as it is. */
export function exchanged<T>(trial: Trial<T>, now: T): { trial: Trial<T>; now: T } {
  return { trial: { ...trial, aside: now }, now: trial.aside ?? trial.base };
}

const placeOf = (id: string) => `try:${id}`;

/** Keeps a try for this tab, as far as there is room. */
export function keepTrial<T>(id: string, kept: KeptTrial<T>, shelf: Shelf): void {
  try {
    shelf.setItem(placeOf(id), JSON.stringify(kept));
  } catch {
    shelf.removeItem(placeOf(id));
  }
}

export function forgetTrial(id: string, shelf: Shelf): void {
  shelf.removeItem(placeOf(id));
}

/** The try that this tab kept of a build, and whether it is still one of the build as it is saved. */
export function readTrial<T>(id: string, saved: T, shelf: Shelf): (KeptTrial<T> & { stands: boolean }) | null {
  try {
    const kept = JSON.parse(shelf.getItem(placeOf(id)) ?? "") as KeptTrial<T>;
    if (!kept.trial.base || !kept.now || !Array.isArray(kept.trial.history.past)) return null;
    return { ...kept, stands: JSON.stringify(kept.trial.base) === JSON.stringify(saved) };
  } catch {
    return null;
  }
}

import { useCallback, type RefObject } from "react";
import { nothingYet, type History } from "./history";
import { begun, exchanged, keptHistory, type Trial } from "./trial";

type Hand<T> = {
  latest: RefObject<{ draft: T } | null>;
  trying: RefObject<Trial<T> | null>;
  /** Puts a try, or its end, and what is in hand then. */
  turn: (trial: Trial<T> | null, next: T) => void;
  history: History<T>;
  remember: (history: History<T>) => void;
  edit: (label: string, change: (draft: T) => T) => void;
};

/** What can be done with a try of the build that is open. */
export function useTrial<T>({ latest, trying, turn, history, remember, edit }: Hand<T>) {
  const beginTry = useCallback(() => {
    const now = latest.current?.draft;
    if (!now || trying.current) return;
    turn(begun(now, history), now);
    remember(nothingYet());
  }, [history, latest, remember, trying, turn]);

  /** A change that is only tried, whether a try is open already or not. */
  const tryOut = useCallback(
    (label: string, change: (draft: T) => T) => {
      beginTry();
      edit(label, change);
    },
    [beginTry, edit],
  );

  const keepTry = useCallback(
    (which: "this" | "aside" = "this") => {
      const trial = trying.current;
      const now = which === "this" ? latest.current?.draft : trial?.aside;
      if (!trial || !now) return;
      turn(null, now);
      remember(now === trial.base ? trial.history : keptHistory(trial));
    },
    [latest, remember, trying, turn],
  );

  const dropTry = useCallback(() => {
    const trial = trying.current;
    if (!trial) return;
    turn(null, trial.base);
    remember(trial.history);
  }, [remember, trying, turn]);

  const exchangeTry = useCallback(() => {
    const now = latest.current?.draft;
    if (!trying.current || !now) return;
    const made = exchanged(trying.current, now);
    turn(made.trial, made.now);
    remember(nothingYet());
  }, [latest, remember, trying, turn]);

  return { beginTry, tryOut, keepTry, dropTry, exchangeTry };
}

import { useCallback, useState } from "react";

const KEPT = "tour";
type Kept = { at: number; shown: boolean };

/** What a browser kept of the tour: which step, and whether it is open. */
export function readTour(shelf: Pick<Storage, "getItem">): Kept {
  try {
    const kept = JSON.parse(shelf.getItem(KEPT) ?? "") as Kept;
    return Number.isInteger(kept.at) && kept.at >= 0 ? { at: kept.at, shown: kept.shown } : { at: 0, shown: false };
  } catch {
    return { at: 0, shown: false };
  }
}

/** The tour of this browser: left and taken up where it was, begun anew once it was done. */
export function useTour(steps: number) {
  const [kept, setKept] = useState<Kept>(() => readTour(localStorage));
  const put = useCallback((next: Kept) => {
    localStorage.setItem(KEPT, JSON.stringify(next));
    setKept(next);
  }, []);
  const go = useCallback((at: number) => put({ at, shown: at < steps }), [put, steps]);
  const leave = useCallback(() => put({ ...kept, shown: false }), [kept, put]);
  const open = useCallback(() => {
    const at = kept.at < steps ? kept.at : 0;
    put({ at, shown: true });
    return at;
  }, [kept.at, put, steps]);
  return { ...kept, go, leave, open };
}

import { createContext, useContext } from "react";
import type { DraftHandle } from "@/draft/useDraft";

type Actions = {
  drive: string;
  openWorking: (figure: string, station?: string) => void;
  goTo: (station: string, path?: string, drive?: string) => void;
  say: (sentence: string) => void;
  /** Shows the try that is open beside the build as it is. */
  showTries: () => void;
};

/* Two contexts, since one of them changes with every key: what only acts need not be drawn again. */
export const ActionsContext = createContext<Actions | null>(null);
export const DraftContext = createContext<DraftHandle | null>(null);

/** What the frame can do; it stays the same while typing. */
export function useActions(): Actions {
  const actions = useContext(ActionsContext);
  if (!actions) throw new Error("outside the frame");
  return actions;
}

/** The open build and the frame's doings. */
export function useShell(): Actions & { draft: DraftHandle } {
  const draft = useContext(DraftContext);
  if (!draft) throw new Error("outside the frame");
  return { ...useActions(), draft };
}

import { createContext, useContext } from "react";
import type { DraftHandle } from "./useDraft";

type Shell = {
  draft: DraftHandle;
  drive: string;
  openWorking: (figure: string, station?: string) => void;
  goTo: (station: string, path?: string, drive?: string) => void;
  say: (sentence: string) => void;
};

export const ShellContext = createContext<Shell | null>(null);

/** The open build and the frame's doings. */
export function useShell(): Shell {
  const shell = useContext(ShellContext);
  if (!shell) throw new Error("outside the frame");
  return shell;
}

import { useLayoutEffect } from "react";

export const KEY_HELP: [string, string][] = [
  ["1 … 9, 0, -", "the stations, Motor to Log"],
  ["b", "the Build page"],
  ["[ and ]", "the drive before and the next"],
  ["w", "working of the first figure, or close it"],
  ["t", "tight spots, show or fold"],
  ["e", "the words on this sheet, explained"],
  ["Ctrl K", "find a station, field, part, finding or quick sum"],
  ["Ctrl Z, Ctrl Y", "undo and redo, in every station"],
  ["↑ ↓ in a field", "nudge the last digit; with Shift ten times"],
  ["?", "this list"],
];

const KEPT = "plain-keys";

export function plainKeysOn(): boolean {
  return localStorage.getItem(KEPT) !== "off";
}

export function setPlainKeys(on: boolean) {
  localStorage.setItem(KEPT, on ? "on" : "off");
}

function inText(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable)
  );
}

/** Plain keys act outside text fields (and can be switched off); with Alt they act everywhere. */
export function useKeys(act: (key: string) => boolean) {
  // Before the page is painted: a key pressed as soon as something is seen must not be lost.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const command = event.ctrlKey || event.metaKey;
      let key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (command) {
        if (!["k", "z", "y"].includes(key)) return;
        key = `ctrl-${event.shiftKey && key === "z" ? "y" : key}`;
      } else if (event.altKey) {
        if (event.code.startsWith("Digit")) key = event.code.slice(5);
      } else if (
        inText(event.target) ||
        !plainKeysOn() ||
        document.querySelector("[role=dialog], [role=presentation].MuiModal-root")
      ) {
        return;
      }
      if (act(key)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [act]);
}

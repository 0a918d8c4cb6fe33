const WORDS: Record<string, string> = {
  holds: "holds",
  open: "open: something is not known yet",
  tight: "tight",
  stops: "stops",
  stale: "stale: something changed since it was measured",
};

/** A station's state, by shape and word as well as by colour. */
export function Stamp({ state, text }: { state: string; text: string }) {
  const mark = { holds: "✓ holds", open: "open", tight: text, stops: `✕ ${text}`, stale: "stale" }[state] ?? text;
  return (
    <span className={`stamp stamp-${state}`} title={WORDS[state]}>
      {mark}
    </span>
  );
}

import { Fragment } from "react";

/** Prints `K_e` with its subscript, and leaves the rest of a formula as it is. */
export function Formula({ text }: { text: string }) {
  const parts = text.split(/(_[A-Za-z0-9ηω]+)/g);
  return (
    <span className="formula">
      {parts.map((part, i) =>
        part.startsWith("_") ? <sub key={i}>{part.slice(1)}</sub> : <Fragment key={i}>{part}</Fragment>,
      )}
    </span>
  );
}

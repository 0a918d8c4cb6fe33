const FIRST = ".given :is(input, select, button), .follows :is(input, select, textarea, button, a)";

/** The first stop of the tab key: past stations and tools, to the sheet's first field. */
export function SkipLink() {
  return (
    <button type="button" className="skip" onClick={() => document.querySelector<HTMLElement>(FIRST)?.focus()}>
      To the first field
    </button>
  );
}

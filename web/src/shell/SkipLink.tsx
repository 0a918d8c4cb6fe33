const FIRST =
  ".given .field :is(input, select), .given .fields > button, .follows :is(input, select, textarea, button, a)";

function toFirst() {
  const stops = [...document.querySelectorAll<HTMLElement>(FIRST)];
  // One that is folded away takes no focus.
  stops.find((e) => e.checkVisibility())?.focus();
}

/** The first stop of the tab key: past stations and tools, to the sheet's first field. */
export function SkipLink() {
  return (
    <button type="button" className="skip" onClick={toFirst}>
      To the first field
    </button>
  );
}

/** The head of a table's last column, for those who hear it. */
export function TakeAwayHead() {
  return (
    <th scope="col">
      <span className="unseen">Take away</span>
    </th>
  );
}

/** The button that takes a row away. */
export function TakeAway({ label, onDrop }: { label: string; onDrop: () => void }) {
  return (
    <button type="button" className="drop" aria-label={label} onClick={onDrop}>
      ✕
    </button>
  );
}

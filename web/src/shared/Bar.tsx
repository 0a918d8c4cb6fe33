/** How much of a limit is used: the mark stands at the limit. */
export function Bar({ use, state }: { use: number | null; state: string }) {
  const width = use === null ? 0 : use < 0 ? 100 : Math.min(use * 80, 100);
  return (
    <span className={`bar bar-${state}`} aria-hidden="true">
      <i style={{ width: `${width}%` }} />
      <u />
    </span>
  );
}

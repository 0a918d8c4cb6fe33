/** Sentences about what was just tried or read, told as they come. */
export function Says({ lines }: { lines: string[] }) {
  return (
    <div role="status">
      <ul className="plain-list told-says">
        {lines.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
    </div>
  );
}

/** Names and values of a tryout, a line each. */
export function ToldFigures({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <dl className="told-figures">
      {rows.map(([name, text], i) => (
        <div key={i}>
          <dt>{name}</dt>
          <dd className="num">{text}</dd>
        </div>
      ))}
    </dl>
  );
}

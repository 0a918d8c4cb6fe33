import type { components } from "@/../generated/schema";

export type ComparisonView = components["schemas"]["ComparisonView"];
type Row = ComparisonView["given"][number];

function Rows({ caption, rows, marked = false }: { caption: string; rows: Row[]; marked?: boolean }) {
  if (!rows.length) return null;
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>{caption}</caption>
        <thead>
          <tr>
            <th>What</th>
            <th>Then</th>
            <th>Now</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={`${r.what} ${r.drive} ${i}`}>
              <td>
                {r.what}
                {r.drive && <small>, {r.drive}</small>}
              </td>
              <td>{r.before}</td>
              <td>
                {r.after}
                {marked && (r.worse ? " ▲ worse" : " ▼ better")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What differs from a revision to the build in hand. */
export function Comparison({ number, view }: { number: number; view: ComparisonView }) {
  const nothing = !view.given.length && !view.figures.length && !view.limits.length;
  return (
    <section aria-label={`From revision ${number} to now`}>
      <h3>From revision {number} to now</h3>
      {nothing && <p>Nothing differs.</p>}
      <Rows caption="Given otherwise" rows={view.given} />
      <Rows caption="Limits" rows={view.limits} marked />
      <Rows caption="Figures that moved, the farthest first" rows={view.figures} />
      {view.more > 0 && <p className="field-help">{view.more} more figures moved by less.</p>}
    </section>
  );
}

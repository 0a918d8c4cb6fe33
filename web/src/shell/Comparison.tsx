import type { components } from "@/../generated/schema";
import { Retune } from "@/shared/Retune";

export type ComparisonView = components["schemas"]["ComparisonView"];
type Row = ComparisonView["given"][number];

type Heads = [string, string];

function Rows({
  caption,
  rows,
  heads,
  marked = false,
}: {
  caption: string;
  rows: Row[];
  heads: Heads;
  marked?: boolean;
}) {
  if (!rows.length) return null;
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>{caption}</caption>
        <thead>
          <tr>
            <th>What</th>
            <th>{heads[0]}</th>
            <th>{heads[1]}</th>
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

/** What differs from one state of a build to another. */
export function Comparison({
  title,
  view,
  heads = ["Then", "Now"],
}: {
  title: string;
  view: ComparisonView;
  heads?: Heads;
}) {
  const nothing = !view.given.length && !view.figures.length && !view.limits.length;
  return (
    <section aria-label={title}>
      <h3>{title}</h3>
      {nothing && <p>Nothing differs.</p>}
      <Rows caption="Given otherwise" rows={view.given} heads={heads} />
      <Rows caption="Limits" rows={view.limits} heads={heads} marked />
      <Rows caption="Figures that moved, the farthest first" rows={view.figures} heads={heads} />
      {view.retune.length > 0 && (
        <>
          <h4>To be set again</h4>
          <Retune rows={view.retune} />
        </>
      )}
      {view.more > 0 && <p className="field-help">{view.more} more figures moved by less.</p>}
    </section>
  );
}

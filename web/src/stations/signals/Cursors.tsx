import { Slide } from "@/shared/Slide";
type Row = { name: string; unit: string; data: number[] };
type Props = {
  x: number[];
  unit: string;
  rows: Row[];
  /** Where the cursors stand, as places in x. */
  places: [number, number];
  onMove: (places: [number, number]) => void;
};
const text = (v: number) => Number(v.toPrecision(4)).toString().replace("-", "−");

/** Two cursors on one x: what the lines are at each, and what lies between. */
export function Cursors({ x, unit, rows, places, onMove }: Props) {
  const [i, j] = places;
  const apart = x[j]! - x[i]!;
  return (
    <div className="cursors" role="group" aria-label="Cursors">
      {(
        [
          ["A", i],
          ["B", j],
        ] as const
      ).map(([name, at]) => (
        <Slide
          key={name}
          label={name}
          min={0}
          max={x.length - 1}
          value={at}
          onChange={(v) => onMove(name === "A" ? [v, j] : [i, v])}
          text={`${text(x[at]!)} ${unit}: ${rows.map((r) => `${r.name} ${text(r.data[at]!)} ${r.unit}`).join(", ")}`}
        />
      ))}
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">At</th>
            <th scope="col">time, {unit}</th>
            {rows.map((r) => (
              <th key={r.name} scope="col">
                {r.name}, {r.unit}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {(
            [
              ["A", i],
              ["B", j],
            ] as const
          ).map(([name, at]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className="num">{text(x[at]!)}</td>
              {rows.map((r) => (
                <td key={r.name} className="num">
                  {text(r.data[at]!)}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">B − A</th>
            <td className="num">{text(apart)}</td>
            {rows.map((r) => (
              <td key={r.name} className="num">
                {text(r.data[j]! - r.data[i]!)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}

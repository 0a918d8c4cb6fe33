import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import TableSortLabel from "@mui/material/TableSortLabel";
import { useState } from "react";
import { columnsOf, sorted, type Candidate, type Column } from "./compare";

const TOLD: Record<string, (c: Candidate) => string> = {
  price_eur: (c) => c.price,
  drop_v: (c) => c.drop,
  top_speed_rad_s: (c) => c.top_speed,
  junction_c: (c) => c.junction,
};
const VERDICTS = { holds: "✓ holds", open: "not all known", refused: "✕ refused" };

type Props = { candidates: Candidate[]; order: string; onChoose: (c: Candidate) => void };

/** Every part in a row, every check and number in a column of its own, sorted by any of them. */
export function CompareTable({ candidates, order, onChoose }: Props) {
  const [by, setBy] = useState("");
  const [down, setDown] = useState(false);
  const columns = columnsOf(candidates);
  const rows = sorted(
    candidates,
    columns.find((c) => c.key === by),
    down,
  );
  const press = (key: string) => {
    if (by === key && down) setBy("");
    setDown(by === key && !down);
    if (by !== key) setBy(key);
  };
  return (
    <>
      <p className="field-help">
        {by ? "Sorted by the column that is marked; a third press gives the order back. " : `${order} `}
        Percentages are what is used of the limit. What is given stands beside the bars.
      </p>
      {/* A wide table is scrolled by keys, too. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <div className="wide-table compare" role="region" aria-label="Parts compared" tabIndex={0}>
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>Part</TableCell>
              {columns.map((c) => (
                <TableCell key={c.key} align="right" sortDirection={by === c.key ? (down ? "desc" : "asc") : false}>
                  <TableSortLabel
                    active={by === c.key}
                    direction={by === c.key && down ? "desc" : "asc"}
                    onClick={() => press(c.key)}
                  >
                    {c.label}
                  </TableSortLabel>
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((c) => (
              <TableRow key={c.id} selected={c.chosen}>
                <TableCell component="th" scope="row">
                  <b title={c.name}>{c.name}</b>
                  {c.reasons[0] && (
                    <small className="compare-why" title={c.reasons.join("; ")}>
                      {c.reasons[0]}
                    </small>
                  )}
                  <small>{c.chosen ? "✓ chosen" : VERDICTS[c.verdict]}</small>{" "}
                  {!c.chosen && c.id !== "stage" && (
                    <Button size="small" onClick={() => onChoose(c)} aria-label={`Choose ${c.name}`}>
                      Choose
                    </Button>
                  )}
                </TableCell>
                {columns.map((column) => (
                  <Cell key={column.key} c={c} column={column} />
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </div>
    </>
  );
}

function Cell({ c, column }: { c: Candidate; column: Column }) {
  const tell = TOLD[column.key];
  const check = c.checks.find((k) => k.code === column.key);
  const text = tell ? tell(c) : check ? check.use_text || "not known" : "–";
  return (
    <TableCell align="right" className={`num check-${check?.state ?? ""}`} title={check?.detail}>
      {check?.state === "stop" ? "✕ " : ""}
      {text}
    </TableCell>
  );
}

import Button from "@mui/material/Button";
import { FilePicker } from "../FilePicker";

type Props = { label: string; onPick: (file: File) => void; onGive: (form: "csv" | "json") => void };

/** A shelf's files: in as CSV or JSON, and out as either. */
export function FileButtons({ label, onPick, onGive }: Props) {
  return (
    <>
      <FilePicker label={label} accept=".csv,.json,text/csv,application/json" onPick={onPick}>
        Import CSV or JSON …
      </FilePicker>
      <Button onClick={() => onGive("csv")}>Export CSV</Button>
      <Button onClick={() => onGive("json")}>Export JSON</Button>
    </>
  );
}

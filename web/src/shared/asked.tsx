import TextField from "@mui/material/TextField";
import { useId } from "react";

/** A plain number as it was typed; an error that says what is missing. */
export function plain(text: string, what: string): number {
  const value = Number(text.trim().replace("−", "-").replace(",", "."));
  if (!text.trim() || !Number.isFinite(value)) throw new Error(`Give ${what}.`);
  return value;
}

/** A short number field of a tryout. */
export function Short({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <TextField
      size="small"
      label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ htmlInput: { inputMode: "decimal" } }}
    />
  );
}

/** One of a few, as a list. */
export function Pick<K extends string>({
  label,
  choices,
  value,
  onChoose,
}: {
  label: string;
  choices: Record<K, string>;
  value: K;
  onChoose: (key: K) => void;
}) {
  const id = useId();
  return (
    <span className="pick">
      <label htmlFor={id}>{label}</label>
      <select id={id} className="field-choice" value={value} onChange={(e) => onChoose(e.target.value as K)}>
        {(Object.keys(choices) as K[]).map((k) => (
          <option key={k} value={k}>
            {choices[k]}
          </option>
        ))}
      </select>
    </span>
  );
}

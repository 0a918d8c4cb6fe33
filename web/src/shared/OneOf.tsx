import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import "./one-of.css";

type Choice<K extends string> = { key: K; label: string; tone?: string };

/** One of a few things side by side, as marked words; arrow keys go from one to the next. */
export function OneOf<K extends string>({
  label,
  choices,
  value,
  onChoose,
}: {
  label: string;
  choices: readonly Choice<K>[];
  value: K;
  onChoose: (key: K) => void;
}) {
  return (
    <RadioGroup row aria-label={label} className="one-of" value={value} onChange={(_, next) => onChoose(next as K)}>
      {choices.map((c) => (
        <FormControlLabel
          key={c.key}
          value={c.key}
          label={c.label}
          className={`one-of-choice${c.key === value ? " one-of-chosen" : ""}${c.tone ? ` ${c.tone}` : ""}`}
          control={<Radio size="small" />}
        />
      ))}
    </RadioGroup>
  );
}

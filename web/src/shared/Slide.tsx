import Slider from "@mui/material/Slider";

interface Props {
  /** Shown before it, and its accessible name. */
  label: string;
  min: number;
  max: number;
  step?: number;
  value: number;
  /** What its value means, for those who hear it. */
  text: string;
  onChange: (value: number) => void;
}

/** A slider with its name; pointer, touch and keys are the library's. */
export function Slide({ label, min, max, step = 1, value, text, onChange }: Props) {
  return (
    <span className="slide">
      <span aria-hidden="true">{label}</span>
      <Slider
        size="small"
        aria-label={label}
        min={min}
        max={max}
        step={step}
        value={value}
        getAriaValueText={() => text}
        onChange={(_, next) => onChange(next)}
      />
    </span>
  );
}

import Button from "@mui/material/Button";
import { Slide } from "@/shared/Slide";
import { hertz, short, type MapView, type Place } from "./places";

const said = (map: MapView, p: Place) => {
  const junction = map.junction_c[p.row]?.[p.column];
  const loss = map.loss_w[p.row]?.[p.column];
  return {
    current: map.current_a[p.column] ?? 0,
    frequency: map.frequency_hz[p.row] ?? 0,
    junction: junction ?? null,
    loss: loss ?? null,
  };
};
const degrees = (v: number | null) => (v === null ? "runs away" : `${v} °C`);
const watts = (v: number | null) => (v === null ? "–" : `${v} W`);
const apart = (a: number | null, b: number | null, unit: string) =>
  a === null || b === null ? "–" : `${a >= b ? "+" : "−"}${Math.abs(Number((a - b).toPrecision(3)))} ${unit}`;

interface Props {
  map: MapView;
  at: Place;
  pinned: Place | null;
  onMove: (to: Place) => void;
  onPin: (to: Place | null) => void;
}

/** What the map says at one point, chosen by keys or by pointer, and beside a second one that was pinned. */
export function MapReading({ map, at, pinned, onMove, onPin }: Props) {
  const here = said(map, at);
  const there = pinned && said(map, pinned);
  return (
    <div className="map-reading">
      <Slide
        label="Read off at a current"
        min={0}
        max={map.current_a.length - 1}
        value={at.column}
        onChange={(column) => onMove({ ...at, column })}
        text={`${short(here.current)} A`}
      />
      <Slide
        label="and a frequency"
        min={0}
        max={map.frequency_hz.length - 1}
        value={at.row}
        onChange={(row) => onMove({ ...at, row })}
        text={hertz(here.frequency)}
      />
      <p className="read-off">
        <output className="num">
          {short(here.current)} A at {hertz(here.frequency)}: {degrees(here.junction)}, {watts(here.loss)}
        </output>
        <Button size="small" onClick={() => onPin(pinned ? null : at)}>
          {pinned ? "Take the pin away" : "Pin it, to compare"}
        </Button>
      </p>
      {there && (
        <p className="field-help" role="status">
          Against the pin, {short(there.current)} A at {hertz(there.frequency)}: {degrees(there.junction)},{" "}
          {watts(there.loss)}: <b className="num">{apart(here.junction, there.junction, "K")}</b>,{" "}
          <b className="num">{apart(here.loss, there.loss, "W")}</b>
        </p>
      )}
    </div>
  );
}

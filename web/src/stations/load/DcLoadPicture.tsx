import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";
import type { PictureProps } from "@/shared/picture";
import "./load.css";

const NAMES: Record<string, string> = {
  solenoid: "pulls in, then held",
  pump: "starts, then runs",
  lamp: "cold, then lit",
};

/** The current of a solenoid, pump or lamp from the moment it is switched on. */
export default function DcLoadPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"dc_load">;
  if (p.time_s.length === 0)
    return <p className="hint">Give the load its rated voltage and current: its start is drawn from them.</p>;
  return (
    <Plot
      x={p.time_s}
      xLabel="time, s"
      axes={[{ id: "current", label: "current, A", side: "left", min: 0 }]}
      lines={[
        {
          id: "current",
          label: NAMES[p.load] ?? "",
          data: p.current_a,
          axis: "current",
          tone: 2,
          labelAt: 0.5,
          labelDy: -10,
        },
      ]}
      marks={[]}
      words={`Current: ${p.texts["peak"]} at first, then ${p.texts["held"]}; on for ${p.texts["on"]}, off for ${p.texts["off"]}.`}
      height={240}
    />
  );
}

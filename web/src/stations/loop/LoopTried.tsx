import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { GainMap } from "./GainMap";
import { Homing } from "./Homing";
import { Moves } from "./Moves";
import { Outer } from "./Outer";
import { Trace } from "./Trace";
import "./loop.css";

/** Tried on the model of this drive: the map of gains, a move, homing. */
export default function LoopTried({ picture }: PictureProps) {
  const p = picture as PictureOf<"loop">;
  return (
    <>
      {p.time_s.length > 0 && <GainMap gain={p.gain_pct_per_rpm ?? null} integral={p.integral_ms ?? null} />}
      {p.fitted && <Moves />}
      {p.fitted && <Homing />}
      {p.fitted && <Trace />}
      {p.fitted && <Outer />}
    </>
  );
}

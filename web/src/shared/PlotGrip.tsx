import { useDrawingArea, useXScale, useYScale } from "@mui/x-charts/hooks";
import { useEffect, useRef, useState, type PointerEvent } from "react";

export type Grip = {
  x: number;
  y: number;
  axis: string;
  /** Told of each place that it is dragged to, at most once a frame. */
  onMove: (x: number) => void;
};

type Scale = (v: number) => number | undefined;
const REACH = 16;

/** A point that is dragged along x between ``from`` and ``to``. Its keys are a slider's below the picture. */
export function PlotGrip({ grip, from, to }: { grip: Grip; from: number; to: number }) {
  const area = useDrawingArea();
  const scaleX = useXScale("x") as unknown as Scale;
  const scaleY = useYScale(grip.axis) as unknown as Scale;
  const [drawn, setDrawn] = useState<number | null>(null);
  const holds = useRef<AbortController | null>(null);
  const moved = useRef(grip.onMove);
  useEffect(() => {
    moved.current = grip.onMove;
  });
  useEffect(() => () => holds.current?.abort(), []);
  const x = scaleX(drawn ?? grip.x) ?? 0;
  const y = scaleY(grip.y) ?? 0;

  const press = (event: PointerEvent<SVGCircleElement>) => {
    if (event.button !== 0) return;
    event.preventDefault();
    const begun = x - event.clientX;
    const hold = new AbortController();
    holds.current = hold;
    let frame = 0;
    // By the window: the chart takes the pointer for itself once it moves.
    const drag = (e: globalThis.PointerEvent) => {
      const share = Math.min(Math.max((begun + e.clientX - area.left) / area.width, 0), 1);
      const wanted = from + share * (to - from);
      setDrawn(wanted);
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        moved.current(wanted);
      });
    };
    const release = () => {
      hold.abort();
      setDrawn(null);
    };
    window.addEventListener("pointermove", drag, { signal: hold.signal });
    window.addEventListener("pointerup", release, { signal: hold.signal });
    window.addEventListener("pointercancel", release, { signal: hold.signal });
  };
  return (
    <g className="plot-grip">
      {drawn !== null && <line x1={x} x2={x} y1={area.top} y2={area.top + area.height} />}
      <circle r={REACH} cx={x} cy={y} onPointerDown={press} />
    </g>
  );
}

import { useDrawingArea } from "@mui/x-charts/hooks";
import { useEffect, useRef, useState, type PointerEvent } from "react";

export type Hands = {
  /** Where the cursors stand, in x. */
  cursors: number[];
  onCursor: (which: number, x: number) => void;
  onSpan: (from: number, to: number) => void;
  /** So many times as wide, about an x. False where there is nothing to change: the page is scrolled then. */
  onWider: (x: number, times: number) => boolean;
  onWhole: () => void;
};

const [GRIP, LEAST_DRAG] = [9, 6];

/** What hands do on a plot from ``from`` to ``to``: grab a cursor, draw a stretch to look closer, turn the wheel. */
export function PlotHands({ hands, from, to }: { hands: Hands; from: number; to: number }) {
  const area = useDrawingArea();
  const place = useRef<SVGRectElement>(null);
  const held = useRef<{ cursor: number; start: number } | null>(null);
  // A wheel that turns over a plot on its way down the page scrolls the page; only one that was pressed takes it.
  const engaged = useRef(false);
  const [drawn, setDrawn] = useState<[number, number] | null>(null);
  const pixel = (clientX: number) => {
    const box = place.current?.getBoundingClientRect();
    return box ? ((clientX - box.left) / box.width) * area.width : 0;
  };
  const xAt = (px: number) => from + (Math.min(Math.max(px, 0), area.width) / area.width) * (to - from);
  const pixelOf = (x: number) => ((x - from) / (to - from)) * area.width;

  const turn = useRef<(event: WheelEvent) => void>(() => undefined);
  useEffect(() => {
    turn.current = (event) => {
      if (!engaged.current && !event.ctrlKey) return;
      if (hands.onWider(xAt(pixel(event.clientX)), event.deltaY > 0 ? 1.25 : 0.8)) event.preventDefault();
    };
  });
  useEffect(() => {
    const rect = place.current;
    const heard = (event: WheelEvent) => turn.current(event);
    rect?.addEventListener("wheel", heard, { passive: false });
    return () => rect?.removeEventListener("wheel", heard);
  }, []);

  const press = (event: PointerEvent<SVGRectElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    engaged.current = true;
    const at = pixel(event.clientX);
    const apart = hands.cursors.map((x) => Math.abs(pixelOf(x) - at));
    const near = apart.indexOf(Math.min(...apart));
    held.current = { cursor: (apart[near] ?? Infinity) <= GRIP ? near : -1, start: at };
  };
  const drag = (event: PointerEvent<SVGRectElement>) => {
    const holds = held.current;
    if (!holds) return;
    const at = pixel(event.clientX);
    if (holds.cursor >= 0) hands.onCursor(holds.cursor, xAt(at));
    else setDrawn([holds.start, Math.min(Math.max(at, 0), area.width)]);
  };
  const release = () => {
    const holds = held.current;
    held.current = null;
    setDrawn(null);
    if (holds && holds.cursor < 0 && drawn && Math.abs(drawn[1] - drawn[0]) >= LEAST_DRAG)
      hands.onSpan(xAt(drawn[0]), xAt(drawn[1]));
  };
  return (
    <>
      {drawn && (
        <rect
          className="plot-stretch"
          x={area.left + Math.min(...drawn)}
          y={area.top}
          width={Math.abs(drawn[1] - drawn[0])}
          height={area.height}
        />
      )}
      <rect
        ref={place}
        className="plot-hands"
        x={area.left}
        y={area.top}
        width={area.width}
        height={area.height}
        onPointerDown={press}
        onPointerMove={drag}
        onPointerUp={release}
        onPointerCancel={() => {
          held.current = null;
          setDrawn(null);
        }}
        onPointerLeave={() => {
          engaged.current = false;
        }}
        onDoubleClick={hands.onWhole}
      />
    </>
  );
}

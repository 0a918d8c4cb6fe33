import { listen, type Moment } from "@/draft/noted";
import { strokeOf, tableOf, type Stroke } from "./strokes";
import "./trace.css";

const KEPT = 60;
export const MEASURE = "key to picture";

/** How long the service says that its newest answer took. */
function toldByService(): number {
  const asked = performance
    .getEntriesByType("resource")
    .filter((e): e is PerformanceResourceTiming => e.name.endsWith("/api/assess"));
  return asked.at(-1)?.serverTiming.find((t) => t.name === "total")?.duration ?? 0;
}

/** Measures every keystroke from here on, as the browser's own record and in a table on the page. */
export function beginTrace(): void {
  const strokes: Stroke[] = [];
  const board = document.createElement("aside");
  board.className = "trace";
  board.setAttribute("aria-label", "Trace");
  document.body.append(board);
  show(board, strokes);
  const at: Partial<Record<Moment | "typed", number>> = {};

  document.addEventListener(
    "input",
    (event) => {
      at.typed ??= event.timeStamp;
    },
    { capture: true },
  );
  listen((moment) => {
    if (at.typed === undefined || (moment !== "asked" && at.asked === undefined)) return;
    if (moment !== "asked" || at.asked === undefined) at[moment] = performance.now();
    if (moment !== "drawn" || at.answered === undefined) return;
    const { typed, asked, answered, drawn } = at as Record<Moment | "typed", number>;
    delete at.typed;
    delete at.asked;
    delete at.answered;
    requestAnimationFrame(() => {
      const frame = performance.now();
      // Asked for here, the frame's own layout is done here, and can be told apart from its painting.
      void document.body.offsetHeight;
      const laidOut = performance.now();
      const channel = new MessageChannel();
      channel.port1.onmessage = () => {
        const painted = performance.now();
        const service = Math.min(toldByService(), answered - asked);
        const stroke = strokeOf({ typed, asked, answered, drawn, frame, laidOut, painted, service });
        strokes.push(stroke);
        if (strokes.length > KEPT) strokes.shift();
        performance.measure(MEASURE, { start: typed, end: painted, detail: stroke });
        performance.clearResourceTimings();
        show(board, strokes);
      };
      channel.port2.postMessage(null);
    });
  });
}

function show(board: HTMLElement, strokes: Stroke[]): void {
  const rows = tableOf(strokes).map(
    (r) => `${r.part.padEnd(8)}${r.median.toFixed(1).padStart(7)}${r.late.toFixed(1).padStart(7)}`,
  );
  board.textContent = [`${strokes.length} keys`.padEnd(8) + " median    95 %", ...rows].join("\n");
}

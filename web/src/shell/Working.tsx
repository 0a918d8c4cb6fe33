import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, take, type WorkingView } from "@/api/client";
import { Formula } from "@/shared/Symbol";
import { useShell } from "@/draft/context";

/** Formula, numbers put in, origins, doubts, source, and where the figure is used next. */
export function Working({ figure, onClose }: { figure: string; onClose: () => void }) {
  const { draft } = useShell();
  const box = useRef<HTMLElement>(null);
  const asked = useQuery({
    queryKey: ["working", figure, draft.draft],
    queryFn: () => take(api.POST("/api/working", { body: { build: draft.draft as never, figure } })),
    placeholderData: (before) => before,
  });
  useEffect(() => box.current?.focus(), [figure]);
  useEffect(() => {
    const own = box.current;
    const leave = (event: KeyboardEvent) => event.key === "Escape" && onClose();
    own?.addEventListener("keydown", leave);
    return () => own?.removeEventListener("keydown", leave);
  }, [onClose]);
  return (
    <section className="working" aria-label="Working" ref={box} tabIndex={-1}>
      <button type="button" className="drop working-close" aria-label="Close the working" onClick={onClose}>
        ✕
      </button>
      {asked.error && <p className="field-error">{asked.error.message}</p>}
      {asked.data && <Shown view={asked.data} />}
    </section>
  );
}

function Shown({ view }: { view: WorkingView }) {
  const { openWorking, goTo, draft, drive } = useShell();
  const f = view.figure;
  const station = draft.reply?.sheet.station ?? "motor";
  return (
    <>
      <h3>
        {f.title} {f.case && <small>{f.case}</small>}
      </h3>
      {view.formula && (
        <p className="working-formula">
          <Formula text={view.formula} />
        </p>
      )}
      <p className="working-numbers">
        {view.numbers && <>= {view.numbers} </>}
        <b>
          = {f.number || f.reason} {f.unit}
        </b>{" "}
        {f.doubt}
      </p>
      <p className="working-source">Source: {view.source}.</p>
      {view.inputs.length > 0 && (
        <table className="working-inputs">
          <caption className="unseen">Numbers put in</caption>
          <tbody>
            {view.inputs.map((i) => (
              <tr key={i.symbol + i.id}>
                <td>
                  <Formula text={i.symbol} />
                </td>
                <td>
                  {i.kind === "figure" ? (
                    <button type="button" className="link" onClick={() => openWorking(i.id)}>
                      {i.title}
                    </button>
                  ) : i.kind === "given" ? (
                    <button type="button" className="link" onClick={() => goTo(stationOf(i.id, station), i.id, drive)}>
                      {i.title}
                    </button>
                  ) : (
                    i.title
                  )}
                </td>
                <td className="num">{i.text}</td>
                <td>
                  <span className={`dot dot-${i.origin.replace(" ", "-")}`} aria-hidden="true" /> {i.origin}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {view.because.length > 0 && <p className="working-source">Chosen: {view.because.join("; ")}.</p>}
      {view.doubts.length > 0 && (
        <p className="working-source">
          Most of the doubt:{" "}
          {view.doubts
            .slice(0, 3)
            .map((d) => `${d.title} ${d.text}`)
            .join("; ")}
          .
        </p>
      )}
      {view.used_in.length > 0 && (
        <p className="working-source">
          Used in{" "}
          {view.used_in.slice(0, 6).map((u, i) => (
            <span key={u.id}>
              {i > 0 && ", "}
              <button type="button" className="link" onClick={() => openWorking(u.id)}>
                {u.title}
              </button>
            </span>
          ))}
          .
        </p>
      )}
    </>
  );
}

const PLACES: [RegExp, string][] = [
  [/^drives\.[^.]+\.(motor|load|signals|encoder|loop|wiring)\./, ""],
  [/^supply\./, "supply"],
  [/^units\.[^.]+\.(bulk|ripple)/, "power_stage"],
  [/^units\.[^.]+\.supply_run/, "wiring"],
  [/^units\./, "driver"],
  [/^(ambient|controllers|meters|schools)\b/, "build"],
];

/** The station on which a given stands. */
export function stationOf(path: string, otherwise: string): string {
  for (const [pattern, station] of PLACES) {
    const found = pattern.exec(path);
    if (found) return station || (found[1] as string);
  }
  return otherwise;
}

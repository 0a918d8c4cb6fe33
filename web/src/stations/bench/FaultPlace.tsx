import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem } from "@/shared/attempt";

type Heard = Schemas["TouchView"]["must"];
const HEARD: Record<Heard, string> = {
  beeps: "It beeps, near nothing",
  reads: "Some ohms",
  silent: "Nothing",
};

/** In which joint a cause sits, touch by touch with a meter. */
export function FaultPlace({ cause }: { cause: string }) {
  const { draft, drive } = useShell();
  const [made, setMade] = useState<{ id: string; words: string; heard: Heard }[]>([]);
  const build = draft.draft;
  const answers = Object.fromEntries(made.map((m) => [m.id, m.heard]));
  const asked = useQuery({
    queryKey: ["fault place", draft.id, drive, cause, build, answers],
    queryFn: ({ signal }) =>
      take(api.POST("/api/faults/places", { body: { build: build!, drive, cause, answers }, signal })),
    enabled: build !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const found = asked.data;
  if (asked.error) return <Problem>{asked.error.message}</Problem>;
  if (!found) return <p role="status">Looking through the joints …</p>;
  const next = found.next;
  const words = next && `${next.one} and ${next.other}${next.lifted ? `, one leg of ${next.lifted} lifted` : ""}`;
  return (
    <section className="fault-place" aria-label="Where it sits">
      <p role="status">{found.says}</p>
      {next && words && (
        <div className="fault-touch">
          <p>
            {next.lifted && (
              <>
                Lift one leg of <b>{next.lifted}</b>.{" "}
              </>
            )}
            Touch <b>{next.one}</b> and <b>{next.other}</b>. A sound board: {HEARD[next.must].toLowerCase()}.
          </p>
          <span className="button-row">
            {(Object.keys(HEARD) as Heard[]).map((heard) => (
              <Button
                key={heard}
                size="small"
                variant="outlined"
                disabled={asked.isPlaceholderData}
                onClick={() => setMade([...made, { id: next.id, words, heard }])}
              >
                {HEARD[heard]}
              </Button>
            ))}
          </span>
        </div>
      )}
      <ol className="fault-places">
        {found.places.map((p) => (
          <li key={p.where.join()}>
            <b>{p.percent < 1 ? "< 1 %" : `${p.percent.toFixed(0)} %`}</b> {p.where.slice(0, 4).join(", or: ")}
            {p.where.length > 4 && `, or ${p.where.length - 4} more`}
          </li>
        ))}
      </ol>
      {made.length > 0 && (
        <p className="field-help">
          Touched: {made.map((m) => `${m.words}: ${HEARD[m.heard].toLowerCase()}`).join("; ")}.{" "}
          <Button size="small" onClick={() => setMade(made.slice(0, -1))}>
            Take the last one back
          </Button>
        </p>
      )}
    </section>
  );
}

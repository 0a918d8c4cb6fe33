import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "@/api/client";
import { useShell } from "@/draft/context";
import { splitAtGaps, type Gap } from "./gaps";

/** A sentence in which the fields that it asks for lead to where they are given. */
export function AskedFor({ text, gaps = [] }: { text: string; gaps?: Gap[] }) {
  const { draft, drive, goTo, say } = useShell();
  const queries = useQueryClient();
  const lead = async (gap: Gap) => {
    const places = await queries.fetchQuery({
      queryKey: ["find", draft.draft],
      queryFn: () => take(api.POST("/api/find", { body: { build: draft.draft as never } })),
    });
    const able = places.filter((p) => p.kind === "field" && p.key === gap.path);
    const place = able.find((p) => p.drive === drive) ?? able[0];
    if (place) goTo(place.station, place.key, place.drive || undefined);
    else say(`${gap.title} is given with the part that it belongs to.`);
  };
  return splitAtGaps(text, gaps).map((p, i) => {
    const { gap } = p;
    return gap ? (
      <button type="button" key={i} className="link" onClick={() => void lead(gap)}>
        {p.text}
      </button>
    ) : (
      p.text
    );
  });
}

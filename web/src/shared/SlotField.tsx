import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { api, take, type Field } from "@/api/client";
import { useShell } from "@/draft/context";
import { changeAt } from "@/draft/paths";
import { WholeChoice } from "./WholeChoice";

/** A place for a part of the shelf: a copy of the chosen one goes into the build. */
export function SlotField({ field }: { field: Field }) {
  const { draft } = useShell();
  const id = useId();
  const shelf = useQuery({ queryKey: ["components"], queryFn: () => take(api.GET("/api/components")) });
  const fits = (part: { kind?: string; channel?: string }) =>
    field.options?.some((o) => o.value === part.kind && (!o.label || o.label === part.channel));
  const able = shelf.data?.filter((p) => fits(p));
  const own = able?.find((p) => p.id === field.text);
  const copied = field.text ? `${field.note} (copy in this build)` : field.optional ? "None" : "None yet";
  const shown = own ? `${own.name}${own.sample ? "" : " (your own)"}` : copied;
  const choose = (partId: string) => {
    const part = shelf.data?.find((p) => p.id === partId) ?? null;
    draft.editAt(`${field.label}: ${part?.name ?? "none"}`, field.path, () => part);
  };
  return (
    <div className="field" data-path={field.path}>
      <label htmlFor={id}>{field.label}</label>
      <WholeChoice id={id} shown={shown} value={field.text} onChange={(e) => choose(e.target.value)}>
        <option value="">{field.optional ? "None" : "None yet"}</option>
        {field.text && !able?.some((p) => p.id === field.text) && (
          <option value={field.text}>{field.note} (copy in this build)</option>
        )}
        {able?.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
            {p.sample ? "" : " (your own)"}
          </option>
        ))}
      </WholeChoice>
      {field.help && <span className="field-more field-help">{field.help}</span>}
    </div>
  );
}

/** A part's figures copied from the shelf into the fields below. */
export function CopyField({ field }: { field: Field }) {
  const { draft } = useShell();
  const id = useId();
  const profiles = field.options?.[0]?.value === "controller";
  const shelf = useQuery({
    queryKey: profiles ? ["controllers"] : ["components"],
    queryFn: async (): Promise<{ id: string; name?: string; kind?: string }[]> =>
      profiles ? take(api.GET("/api/controllers")) : take(api.GET("/api/components")),
  });
  const able = shelf.data?.filter((p) => profiles || field.options?.some((o) => o.value === p.kind));
  const choose = (partId: string) => {
    const part = able?.find((p) => p.id === partId) as Record<string, unknown> | undefined;
    if (!part) return;
    const into = Object.entries((field.blanks ?? {}) as Record<string, string>);
    draft.editAt(`Figures of ${String(part["name"])}`, field.path, (old) =>
      into.reduce((made, [from, to]) => changeAt(made, to, () => part[from]), old),
    );
  };
  return (
    <div className="field">
      <label htmlFor={id}>{field.label}</label>
      <WholeChoice id={id} shown="Copy from a part …" value="" onChange={(e) => choose(e.target.value)}>
        <option value="">Copy from a part …</option>
        {able?.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </WholeChoice>
    </div>
  );
}

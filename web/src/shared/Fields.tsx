import Button from "@mui/material/Button";
import { useId, useState } from "react";
import type { Field, Section } from "@/api/client";
import { useShell } from "@/draft/context";
import { freshId, getAt } from "@/draft/paths";
import { Explain } from "./Explain";
import { QuantityField } from "./QuantityField";
import { foldLine, useAllShown } from "./folds";
import { ControllerEditor } from "./controller/ControllerEditor";
import { CopyField, SlotField } from "./SlotField";
import { TakeAway, TakeAwayHead } from "./TakeAway";
import { WholeChoice } from "./WholeChoice";

/** Some of an item's fields. */
const picked = (item: Record<string, unknown>, names: string[] = []) =>
  Object.fromEntries(names.map((name) => [name, item[name]]));

function ChoiceField({ field }: { field: Field }) {
  const { draft } = useShell();
  const id = useId();
  const variant = field.control === "variant";
  const kept = getAt(draft.draft, variant ? `${field.path}.kind` : field.path) as string | undefined;
  const value = kept ?? field.text;
  const shown = field.options?.find((o) => o.value === value)?.label ?? "";
  const change = (value: string) =>
    draft.editAt(field.label, field.path, (now) =>
      variant ? { ...(field.blanks?.[value] as object), ...picked(now as Record<string, unknown>, field.keep) } : value,
    );
  return (
    <div className="field" data-path={field.path}>
      <label htmlFor={id}>{field.label}</label>
      <WholeChoice id={id} shown={shown} value={value} onChange={(e) => change(e.target.value)}>
        {field.options?.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </WholeChoice>
      {field.help && (
        <span className="field-more field-help">
          <Explain text={field.help} />
        </span>
      )}
    </div>
  );
}

function TextLine({ field }: { field: Field }) {
  const { draft } = useShell();
  const id = useId();
  const text = (getAt(draft.draft, field.path) as string | undefined) ?? field.text;
  return (
    <div className="field field-text" data-path={field.path}>
      <label htmlFor={id}>{field.label}</label>
      <input
        id={id}
        value={text}
        maxLength={field.most}
        autoComplete="off"
        onChange={(e) => draft.editAt(field.label, field.path, () => e.target.value)}
      />
    </div>
  );
}

/** Fields of a thing. Those that stand as they began are folded, with a line that tells what they hold. */
function FieldList({ fields }: { fields: Field[] }) {
  const all = useAllShown();
  /* What is in sight when the page is opened stays there, and so does what is folded: no field leaps from under the
     hands because it was just emptied, or filled. */
  const [placed] = useState(() => new Map<string, boolean>());
  const [open, setOpen] = useState(false);
  for (const f of fields) if (!placed.has(f.path + f.control)) placed.set(f.path + f.control, f.aside ?? false);
  const draw = (some: Field[]) => some.map((f) => <AnyField key={f.control + f.path} field={f} />);
  const away = fields.filter((f) => placed.get(f.path + f.control));
  /* A fold takes a line itself. */
  if (all || away.length < 2) return draw(fields);
  const troubled = away.some((f) => f.error !== "" || (f.stale?.length ?? 0) > 0);
  const line = foldLine(away);
  return (
    <>
      {draw(fields.filter((f) => !placed.get(f.path + f.control)))}
      <details className="fold" open={open || troubled} onToggle={(e) => setOpen(e.currentTarget.open)}>
        <summary>
          <b>{away.length} more</b>
          {line.held && <span> {line.held}.</span>}
          {line.open && <span> Not given: {line.open}.</span>}
        </summary>
        {draw(away)}
      </details>
    </>
  );
}

export function AnyField({ field, bare, rowLabel }: { field: Field; bare?: boolean; rowLabel?: string }) {
  if (field.control === "quantity") return <QuantityField field={field} bare={bare} rowLabel={rowLabel} />;
  if (field.control === "slot") return <SlotField field={field} />;
  if (field.control === "copy") return <CopyField field={field} />;
  if (field.control === "text") return <TextLine field={field} />;
  return <ChoiceField field={field} />;
}

/** A group of fields, or a list with rows that can be added and taken away. */
export function Fields({ section }: { section: Section }) {
  const { draft } = useShell();
  const add = () =>
    draft.editAt(`Add to ${section.title}`, section.path, (old) => [
      ...((old as object[] | undefined) ?? []),
      { ...(section.blank as object), id: freshId() },
    ]);
  const drop = (id: string) =>
    draft.editAt(`Take from ${section.title}`, section.path, (old) =>
      (old as { id: string }[]).filter((i) => i.id !== id),
    );
  const dropSelf = () => {
    const [list, id] = [section.path?.split(".").slice(0, -1).join(".") ?? "", section.path?.split(".").at(-1)];
    draft.editAt(`Take away ${section.title}`, list, (old) => (old as { id: string }[]).filter((i) => i.id !== id));
  };
  if (!section.rows && section.blank)
    return (
      <Button size="small" className="adder" onClick={add}>
        {section.title}
      </Button>
    );
  return (
    <section className="fields" aria-label={section.title || undefined} data-path={section.path}>
      {section.title && <h3>{section.title}</h3>}
      {section.help && (
        <p className="field-help">
          <Explain text={section.help} />
        </p>
      )}
      <FieldList fields={section.fields} />
      {section.editor === "controller" && section.path && <ControllerEditor path={section.path} />}
      {section.rows && section.columns && <Rows section={section} drop={drop} />}
      {section.rows &&
        !section.columns &&
        section.rows.map((row, i) => (
          <fieldset key={row.id} className="item">
            <legend>{`${(section.title.split(" on ")[0] ?? "").replace(/s$/, "")} ${i + 1}`}</legend>
            <FieldList fields={row.fields} />
            {(section.rows?.length ?? 0) > (section.least ?? 0) && (
              <Button size="small" onClick={() => drop(row.id)}>
                Take away
              </Button>
            )}
          </fieldset>
        ))}
      {section.rows && section.blank && (
        <Button size="small" onClick={add}>
          Add {section.columns ? "a row" : "one more"}
        </Button>
      )}
      {section.removable && (
        <Button size="small" onClick={dropSelf}>
          Take away
        </Button>
      )}
    </section>
  );
}

function Rows({ section, drop }: { section: Section; drop: (id: string) => void }) {
  const rows = section.rows ?? [];
  if (rows.length === 0) return <p className="field-help">None yet.</p>;
  const errors = rows.flatMap((r) => r.fields.filter((f) => f.error !== ""));
  return (
    <>
      <table className="rows">
        <thead>
          <tr>
            {rows[0]?.fields.map((f) => (
              <th key={f.path} scope="col">
                {f.label.replace(/, locked$/, "")}
              </th>
            ))}
            <TakeAwayHead />
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={row.id}>
              {row.fields.map((f) => (
                <td key={f.path}>
                  <AnyField field={{ ...f, error: f.error && "wrong" }} bare rowLabel={`row ${i + 1}`} />
                </td>
              ))}
              <td>
                <TakeAway label={`Take away row ${i + 1} of ${section.title}`} onDrop={() => drop(row.id)} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {errors.map((f) => (
        <p key={f.path} className="field-error">
          {f.error}
        </p>
      ))}
    </>
  );
}

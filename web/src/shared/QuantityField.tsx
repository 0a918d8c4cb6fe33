import { Explain } from "./Explain";
import Button from "@mui/material/Button";
import FormControl from "@mui/material/FormControl";
import InputLabel from "@mui/material/InputLabel";
import NativeSelect from "@mui/material/NativeSelect";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import { memo, useId, useRef, useState, type KeyboardEvent } from "react";
import type { Field } from "@/api/client";
import { useShell } from "@/draft/context";
import { getAt } from "@/draft/paths";
import type { DraftHandle } from "@/draft/useDraft";
import { nudge } from "./nudge";

const ORIGINS = ["measured", "data sheet", "assumed", "default", "chosen"];

type Given = { text: string; value: number | null; origin: string; basis?: Record<string, string> | null };

type Props = { field: Field; bare?: boolean; rowLabel?: string };

/** A field for a quantity: takes what people write, says what is wrong under it, shows where it came from. */
export function QuantityField(props: Props) {
  const { draft } = useShell();
  return <Drawn {...props} given={getAt(draft.draft, props.field.path) as Given | undefined} editAt={draft.editAt} />;
}

type Held = Props & { given: Given | undefined; editAt: DraftHandle["editAt"] };

/* Drawn apart from what it takes from the draft: a key in one field draws none of the others again. */
const Drawn = memo(function Drawn({ field, bare = false, rowLabel = "", given, editAt }: Held) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const text = given?.text ?? field.text;
  const origin = given?.origin ?? field.origin;
  const label = rowLabel ? `${field.label}, ${rowLabel}` : field.label;

  const change = (next: string) =>
    editAt(field.label, field.path, (old) => ({
      ...(old as Given),
      text: next,
      value: field.value,
      origin: field.typed ?? (old as Given).origin,
    }));
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by === undefined || event.altKey || event.ctrlKey) return;
    event.preventDefault();
    change(nudge(text, by * (event.shiftKey ? 10 : 1)));
  };

  const wrong = field.error !== "" && text === field.text;
  const needsUnit = field.unit !== "" && /^[-+\d\s.,eE]+$/.test(text);
  return (
    <div className={`field${bare ? " field-bare" : ""}${wrong ? " field-wrong" : ""}`} data-path={field.path}>
      <span className="field-name">
        <label htmlFor={id} className={bare ? "unseen" : undefined}>
          {label}
          {!bare && field.optional && text === "" && <small> (if you have it)</small>}
        </label>
        {!bare && !wrong && text !== "" && <OriginMark field={field} origin={origin} typed={text} />}
      </span>
      <span className="field-box">
        <input
          id={id}
          ref={input}
          value={text}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={wrong}
          aria-describedby={`${id}-more`}
          placeholder={bare ? "" : field.unit || "number"}
          onChange={(e) => change(e.target.value)}
          onKeyDown={onKey}
        />
        {needsUnit && <i>{field.unit}</i>}
      </span>
      <span id={`${id}-more`} className="field-more">
        {wrong && (
          <span className="field-error">
            {field.error}
            {field.value !== null && " The last good value stays in use."}
          </span>
        )}
        {!bare && text === "" && field.help && (
          <span className="field-help">
            <Explain text={field.help} />
          </span>
        )}
        {(field.stale?.length ?? 0) > 0 && (
          <span className="field-stale">
            Stale: {field.stale?.join(", ")} changed since.{" "}
            <Button
              size="small"
              onClick={() =>
                editAt(`${field.label} confirmed`, field.path, (old) => ({
                  ...(old as Given),
                  basis: field.basis,
                }))
              }
            >
              Still right
            </Button>
          </span>
        )}
      </span>
    </div>
  );
});

/** Where a value came from; opens to change it. */
export function OriginMark({ field, origin, typed = "" }: { field: Field; origin: string; typed?: string }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button type="button" className="origin" aria-haspopup="dialog" onClick={(e) => setAnchor(e.currentTarget)}>
        <span className={`dot dot-${origin.replace(" ", "-")}`} aria-hidden="true" />
        {/* A doubt that stands in the value is read there. */}
        {[origin, typed.includes("±") ? "" : field.doubt].filter(Boolean).join(", ")}
        <span className="unseen">: where {field.label} came from, change</span>
      </button>
      {anchor && <OriginSheet field={field} origin={origin} anchor={anchor} onClose={() => setAnchor(null)} />}
    </>
  );
}

type OriginProps = { field: Field; origin: string; anchor: HTMLElement; onClose: () => void };

function OriginSheet({ field, origin, anchor, onClose }: OriginProps) {
  const { draft } = useShell();
  const given = getAt(draft.draft, field.path) as { meter?: string; note?: string } | undefined;
  const meters = (getAt(draft.draft, "meters") as { id: string; name: string }[] | undefined) ?? [];
  const set = (part: object) =>
    draft.editAt(`${field.label}, origin`, field.path, (old) => ({ ...(old as object), ...part }));
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{ paper: { role: "dialog", "aria-label": `Origin of ${field.label}`, className: "origin-sheet" } }}
    >
      <FormControl fullWidth variant="standard">
        <InputLabel htmlFor={`${field.path}-origin`}>Where it came from</InputLabel>
        <NativeSelect id={`${field.path}-origin`} value={origin} onChange={(e) => set({ origin: e.target.value })}>
          {ORIGINS.map((o) => (
            <option key={o}>{o}</option>
          ))}
        </NativeSelect>
      </FormControl>
      <FormControl fullWidth variant="standard">
        <InputLabel htmlFor={`${field.path}-meter`}>Read with</InputLabel>
        <NativeSelect
          id={`${field.path}-meter`}
          value={given?.meter ?? ""}
          onChange={(e) => set({ meter: e.target.value })}
        >
          <option value="">no meter named</option>
          {meters.map((m) => (
            <option key={m.id} value={m.id}>
              {m.name || m.id}
            </option>
          ))}
        </NativeSelect>
      </FormControl>
      <TextField
        variant="standard"
        fullWidth
        label="Note"
        value={given?.note ?? ""}
        slotProps={{ htmlInput: { maxLength: 500 } }}
        onChange={(e) => set({ note: e.target.value })}
      />
      <p className="field-help">
        Write a doubt beside the value: 12.05 V ± 0.05. It counts as two standard uncertainties.
      </p>
    </Popover>
  );
}

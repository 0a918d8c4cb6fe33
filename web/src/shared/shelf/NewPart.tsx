import Button from "@mui/material/Button";
import { useEffect, useId, useRef, useState } from "react";
import type { Field } from "@/api/client";
import { Problem, useAttempt } from "../attempt";
import type { Source } from "./source";

type Props = {
  source: Source;
  start: Record<string, unknown>;
  /** The id of the entry that is corrected; empty for a new one. */
  corrects: string;
  onDone: (name: string) => void;
};

/** A form for one part: what each number is, where it stands in a data sheet, and what is still needed. */
export function NewPart({ source, start, corrects, onDone }: Props) {
  const id = useId();
  const [part, setPart] = useState(start);
  const [form, setForm] = useState<{ fields: Field[]; ready: boolean } | null>(null);
  const [touched, setTouched] = useState<Record<string, boolean>>({});
  const [unchecked, setUnchecked] = useState("");
  const { problem, attempt } = useAttempt();
  const latest = useRef(part);
  latest.current = part;
  useEffect(() => {
    source
      .check(part)
      .then((got) => {
        if (latest.current === part) setForm(got);
        setUnchecked("");
      })
      .catch((error: Error) => setUnchecked(error.message));
  }, [part, source]);
  const set = (field: Field, text: string) => {
    setTouched({ ...touched, [field.path]: true });
    setPart({
      ...part,
      [field.path]: field.control === "quantity" ? { text, origin: estimated(field) ? "assumed" : "data sheet" } : text,
    });
  };
  const guess = (field: Field) => {
    setTouched({ ...touched, [field.path]: true });
    setPart({ ...part, [field.path]: { text: field.typical, origin: "assumed" } });
  };
  const estimated = (field: Field) => (part[field.path] as { origin?: string } | undefined)?.origin === "assumed";
  const estimate = (field: Field, on: boolean) =>
    setPart({ ...part, [field.path]: { text: typed(field), origin: on ? "assumed" : "data sheet" } });
  const typed = (field: Field) => {
    const value = part[field.path] as { text?: string } | string | undefined;
    return (typeof value === "string" ? value : value?.text) ?? field.text;
  };
  const save = () =>
    attempt(async () => {
      const made = await (corrects ? source.correct(corrects, part) : source.add(part));
      onDone(made.name || "The part");
    });
  const waiting = form?.fields.filter((f) => f.error !== "") ?? [];
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <p className="field-help">
        Copy the figures from the tables, not from the first page: the headline current holds for a case that is kept
        cold. What you cannot find, estimate high for heat and low for limits, and tick “estimated”: what rests on it
        then says so.
      </p>
      <div className="part-form">
        {form?.fields.map((f) => (
          <div key={f.path} className={`field${f.error && touched[f.path] ? " field-wrong" : ""}`}>
            <label htmlFor={`${id}-${f.path}`}>{f.label}</label>
            {f.control === "choice" ? (
              <select
                id={`${id}-${f.path}`}
                className="field-choice"
                value={typed(f)}
                onChange={(e) => set(f, e.target.value)}
              >
                {f.options?.map((o) => (
                  <option key={o.value} value={o.value}>
                    {o.label}
                  </option>
                ))}
              </select>
            ) : (
              <span className="field-box">
                <input
                  id={`${id}-${f.path}`}
                  value={typed(f)}
                  placeholder={f.unit || ""}
                  autoComplete="off"
                  maxLength={200}
                  aria-invalid={f.error !== "" && (touched[f.path] ?? false)}
                  aria-describedby={`${id}-${f.path}-more`}
                  onChange={(e) => set(f, e.target.value)}
                />
                {(touched[f.path] ?? estimated(f)) && (
                  <label className="estimated">
                    <input
                      type="checkbox"
                      checked={estimated(f)}
                      onChange={(e) => estimate(f, e.target.checked)}
                      aria-label={`${f.label}: estimated`}
                    />{" "}
                    estimated
                  </label>
                )}
              </span>
            )}
            <span id={`${id}-${f.path}-more`} className="field-more">
              {f.error && touched[f.path] && <span className="field-error">{f.error}</span>}
              {f.help && <span className="field-help">{f.help}</span>}
              {f.typical && (
                <button type="button" className="link" onClick={() => guess(f)}>
                  Take {f.typical}, typical of its class
                </button>
              )}
            </span>
          </div>
        ))}
      </div>
      <Problem>{problem || unchecked}</Problem>
      {waiting.length > 0 && <p role="status">Still needed: {waiting.map((f) => f.label).join(", ")}.</p>}
      <div className="dialog-foot">
        <Button type="submit" variant="contained" disabled={!form?.ready}>
          {corrects ? "Correct it on the shelf" : "Put it on the shelf"}
        </Button>
        <Button onClick={() => onDone("")}>Back</Button>
      </div>
    </form>
  );
}

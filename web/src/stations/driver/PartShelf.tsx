import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState } from "react";
import { api, sendFile, take, transfer, type Field } from "../../api/client";
import type { components } from "@/../generated/schema";
import { Problem, useAttempt } from "@/shared/attempt";
import { FilePicker } from "@/shared/FilePicker";
import { saveFile } from "@/shared/files";
import { useShell } from "../../shell/context";

type Part = components["schemas"]["DriverPart"];
type Taken = components["schemas"]["PartsTaken"];

/** The shelf of driver parts: one's own added from a data sheet, files in and out. */
export function PartShelf({ onClose }: { onClose: () => void }) {
  const { draft, say } = useShell();
  const queries = useQueryClient();
  const parts = useQuery({ queryKey: ["parts"], queryFn: () => take(api.GET("/api/parts")) });
  const [adding, setAdding] = useState(false);
  const [taken, setTaken] = useState<{ file: File; result: Taken } | null>(null);
  const { problem, attempt } = useAttempt();
  const own = parts.data?.filter((p) => !p.sample) ?? [];

  const changed = async (words: string) => {
    await queries.invalidateQueries({ queryKey: ["parts"] });
    draft.refresh();
    say(words);
  };
  const drop = (part: Part) =>
    attempt(async () => {
      await take(api.DELETE("/api/parts/{part_id}", { params: { path: { part_id: part.id } } }));
      await changed(`${part.name} is off the shelf. Builds that hold a copy keep it.`);
    });
  const takeIn = (file: File, keepGood = false) =>
    attempt(async () => {
      const kind = file.name.toLowerCase().endsWith(".json") ? "json" : "csv";
      const got = await sendFile<Taken>(`/api/parts/import?format=${kind}&keep_good=${keepGood}`, file, "text/csv");
      setTaken(got.bad.length > 0 ? { file, result: got } : null);
      if (got.kept > 0) await changed(`${got.kept} part${got.kept === 1 ? " is" : "s are"} on the shelf.`);
    });
  const giveOut = (kind: "csv" | "json") =>
    attempt(async () => {
      const response = await transfer(`/api/parts/export?format=${kind}`);
      saveFile(`parts.${kind}`, await response.text());
    });

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="parts-title">
      <div className="dialog">
        <h2 id="parts-title">Driver parts on the shelf</h2>
        {adding ? (
          <NewPart
            onDone={(name) => {
              setAdding(false);
              if (name) void changed(`${name} is on the shelf.`);
            }}
          />
        ) : (
          <>
            <p className="field-help">
              {(parts.data?.length ?? 0) - own.length} samples, made up, typical of their class; {own.length} of your
              own. Files hold one column a field, with units: the README names them.
            </p>
            <p className="button-row">
              <Button autoFocus variant="contained" onClick={() => setAdding(true)}>
                Add a part from its data sheet …
              </Button>
              <FilePicker
                label="Parts file"
                accept=".csv,.json,text/csv,application/json"
                onPick={(picked) => void takeIn(picked)}
              >
                Import CSV or JSON …
              </FilePicker>
              <Button onClick={() => void giveOut("csv")}>Export CSV</Button>
              <Button onClick={() => void giveOut("json")}>Export JSON</Button>
            </p>
            <Problem>{problem}</Problem>
            {taken && (
              <div className="next" role="alert">
                <h3>
                  {taken.result.bad.length} row{taken.result.bad.length === 1 ? "" : "s"} cannot be used
                  {taken.result.kept > 0 ? `, ${taken.result.kept} kept` : ", nothing was kept"}
                </h3>
                <ul>
                  {taken.result.bad.slice(0, 12).map((b) => (
                    <li key={b.line}>
                      Line {b.line}: {b.sentence}
                    </li>
                  ))}
                </ul>
                {taken.result.kept === 0 && taken.result.good > 0 && (
                  <Button size="small" variant="outlined" onClick={() => void takeIn(taken.file, true)}>
                    Keep the {taken.result.good} good ones
                  </Button>
                )}
              </div>
            )}
            <ul className="plain-list motor-shelf">
              {own.map((p) => (
                <li key={p.id}>
                  <b>{p.name}</b>
                  <Button size="small" onClick={() => void drop(p)} aria-label={`Take away ${p.name}`}>
                    Take away
                  </Button>
                </li>
              ))}
            </ul>
            <div className="dialog-foot">
              <Button onClick={onClose}>Close</Button>
            </div>
          </>
        )}
      </div>
    </Dialog>
  );
}

/** A form for one part: what each number is, where it stands in a data sheet, and what is still needed. */
function NewPart({ onDone }: { onDone: (name: string) => void }) {
  const id = useId();
  const [part, setPart] = useState<Record<string, unknown>>({ id: "new" });
  const [form, setForm] = useState<{ fields: Field[]; ready: boolean } | null>(null);
  const [touched, setTouched] = useState<Record<string, boolean>>({});
  const [unchecked, setUnchecked] = useState("");
  const { problem, attempt } = useAttempt();
  const latest = useRef(part);
  latest.current = part;
  useEffect(() => {
    take(api.POST("/api/parts/check", { body: part as Part }))
      .then((got) => {
        if (latest.current === part) setForm(got);
        setUnchecked("");
      })
      .catch((error: Error) => setUnchecked(error.message));
  }, [part]);
  const set = (field: Field, text: string) => {
    setTouched({ ...touched, [field.path]: true });
    setPart({
      ...part,
      [field.path]: field.control === "quantity" ? { text, origin: "data sheet" } : text,
    });
  };
  const typed = (field: Field) => {
    const value = part[field.path] as { text?: string } | string | undefined;
    return (typeof value === "string" ? value : value?.text) ?? field.text;
  };
  const save = () =>
    attempt(async () => {
      const made = await take(api.POST("/api/parts", { body: part as Part }));
      onDone(made.name ?? "The part");
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
        cold. What you cannot find, estimate high for heat and low for limits, and say so in the note.
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
              </span>
            )}
            <span id={`${id}-${f.path}-more`} className="field-more">
              {f.error && touched[f.path] && <span className="field-error">{f.error}</span>}
              {f.help && <span className="field-help">{f.help}</span>}
            </span>
          </div>
        ))}
      </div>
      <Problem>{problem || unchecked}</Problem>
      {waiting.length > 0 && <p role="status">Still needed: {waiting.map((f) => f.label).join(", ")}.</p>}
      <div className="dialog-foot">
        <Button type="submit" variant="contained" disabled={!form?.ready}>
          Put it on the shelf
        </Button>
        <Button onClick={() => onDone("")}>Back</Button>
      </div>
    </form>
  );
}

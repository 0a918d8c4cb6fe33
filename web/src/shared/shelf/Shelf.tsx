import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { sendFile, transfer } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "../attempt";
import { FileButtons } from "./FileButtons";
import { saveFile } from "../files";
import { NewPart } from "./NewPart";
import type { Listed, Source, Taken } from "./source";

type Props = {
  source: Source;
  parts: Listed[] | undefined;
  queryKey: string[];
  onClose: () => void;
  /** What stands above the list; it may begin a part whose form is partly filled. */
  children?: (begin: (part: Record<string, unknown>) => void) => ReactNode;
};

/** One class of the shelf in a dialog: one's own parts added from a data sheet, files in and out. */
export function Shelf({ source, parts, queryKey, onClose, children }: Props) {
  const { draft, say } = useShell();
  const queries = useQueryClient();
  const [adding, setAdding] = useState<Record<string, unknown> | null>(null);
  const [taken, setTaken] = useState<{ file: File; result: Taken } | null>(null);
  const [corrects, setCorrects] = useState("");
  const { problem, attempt } = useAttempt();
  const own = parts?.filter((p) => !p.sample) ?? [];

  const changed = async (words: string) => {
    await queries.invalidateQueries({ queryKey });
    void queries.invalidateQueries({ queryKey: ["offers"] });
    draft.refresh();
    say(words);
  };
  const drop = (part: Listed) =>
    attempt(async () => {
      await source.drop(part.id);
      await changed(`${part.name} is off the shelf. Builds that hold a copy keep it.`);
    });
  const takeIn = (file: File, keepGood = false) =>
    attempt(async () => {
      const kind = file.name.toLowerCase().endsWith(".json") ? "json" : "csv";
      const got = await sendFile<Taken>(source.importAddress(kind, keepGood), file, "text/csv");
      setTaken(got.bad.length > 0 ? { file, result: got } : null);
      if (got.kept > 0) await changed(`${got.kept} part${got.kept === 1 ? " is" : "s are"} on the shelf.`);
    });
  const giveOut = (kind: "csv" | "json") =>
    attempt(async () => {
      const response = await transfer(source.exportAddress(kind));
      saveFile(`${source.file}.${kind}`, await response.text());
    });

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="parts-title">
      <div className="dialog">
        <h2 id="parts-title">{source.title}</h2>
        {adding ? (
          <NewPart
            source={source}
            start={adding}
            corrects={corrects}
            onDone={(name) => {
              setAdding(null);
              setCorrects("");
              if (name)
                void changed(
                  corrects
                    ? `${name} is corrected. ${source.traced ? "Builds that hold a copy are offered what changed." : "Builds that copied its figures keep them."}`
                    : `${name} is on the shelf.`,
                );
            }}
          />
        ) : (
          <>
            {children?.(setAdding)}
            <p className="field-help">
              {(parts?.length ?? 0) - own.length} samples, made up, typical of their class; {own.length} of your own.
              Files hold one column a field, with units: docs/parts.md names them.
            </p>
            <p className="button-row">
              <Button autoFocus variant="contained" onClick={() => setAdding(source.blank)}>
                Add {source.one} from its data sheet …
              </Button>
              <FileButtons
                label="Parts file"
                onPick={(picked) => void takeIn(picked)}
                onGive={(form) => void giveOut(form)}
              />
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
                  <Button
                    size="small"
                    onClick={() => {
                      setCorrects(p.id);
                      setAdding(p);
                    }}
                    aria-label={`Correct ${p.name}`}
                  >
                    Correct …
                  </Button>
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

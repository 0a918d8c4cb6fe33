import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useMemo } from "react";
import type { Reply, Sheet } from "@/api/client";
import { useActions } from "@/draft/context";
import { useWords } from "@/shared/Explain";
import { namesOf, wordsIn } from "@/shared/words";

/** All that is written on a sheet. */
function textsOf(sheet: Sheet): string[] {
  const fields = sheet.sections.flatMap((s) => [...s.fields, ...(s.rows ?? []).flatMap((r) => r.fields)]);
  return [
    ...sheet.sections.flatMap((s) => [s.title, s.help]),
    ...fields.flatMap((f) => [f.label, f.help, ...(f.options ?? []).map((o) => o.label)]),
    sheet.hint,
    ...sheet.figures.flatMap((f) => [f.title, f.reason]),
    ...sheet.findings.flatMap((f) => [f.title, f.detail, f.todo]),
    ...sheet.cautions,
  ];
}

/** The words of the sheet that is open, each in a sentence, and the way to where it stands. */
export function WordList({ reply, onClose }: { reply: Reply; onClose: () => void }) {
  const { goTo } = useActions();
  const words = useWords();
  const met = useMemo(() => wordsIn(textsOf(reply.sheet), namesOf(words)), [reply.sheet, words]);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="words-title">
      <div className="dialog">
        <h2 id="words-title">Words on this sheet</h2>
        {met.length === 0 && <p>None that needs a sentence. Find (Ctrl K) explains all the others.</p>}
        <dl className="word-list">
          {met.map((w) => {
            const at = reply.stamps.find((s) => s.station === w.station && s.station !== reply.sheet.station);
            return (
              <div key={w.term}>
                <dt>
                  {w.term}
                  {w.also.length > 0 && <small> also: {w.also.join(", ")}</small>}
                </dt>
                <dd>
                  {w.says}{" "}
                  {at && (
                    <button
                      type="button"
                      className="link"
                      onClick={() => {
                        onClose();
                        goTo(at.station);
                      }}
                    >
                      See it at {at.title}
                    </button>
                  )}
                </dd>
              </div>
            );
          })}
        </dl>
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { memo, Suspense, useEffect, type ReactNode } from "react";
import { Link } from "react-router";
import type { FindingView, Reply, Sheet } from "@/api/client";
import { AskedFor } from "@/shared/AskedFor";
import { Bar } from "@/shared/Bar";
import { Explain } from "@/shared/Explain";
import { Fields } from "@/shared/Fields";
import { Figures } from "@/shared/Figures";
import { isFolded, showAll, useAllShown } from "@/shared/folds";
import { useActions, useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";
import { newestOf } from "../stations/log/newest";
import { fetchPage, LogPage, PICTURES, TRIED } from "./pages";
import { SheetMenu } from "./SheetMenu";
import { Problem } from "@/shared/attempt";

/** What a sheet of paper must tell by itself: of which build it is, as it stood when. The wiring's pages tell their own. */
function PrintStamp({ reply }: { reply: Reply }) {
  const { draft } = useShell();
  const issue = draft.draft?.issue;
  const drive = reply.drives.length > 1 ? reply.drives.find((d) => d.id === reply.drive)?.name : "";
  return (
    <p className="print-stamp">
      {[reply.name, issue && `board ${issue}`, drive].filter(Boolean).join(", ")}. Printed on{" "}
      {new Date().toLocaleDateString()}.
    </p>
  );
}

type Props = {
  reply: Reply;
  station: string;
  onSpots: () => void;
  onFind: () => void;
  onWords: () => void;
  onTour: () => void;
  working: ReactNode;
};

/** One station: what is given on the left, what follows on the right. */
export function SheetView({ reply, station, onSpots, onFind, onWords, onTour, working }: Props) {
  const { draft } = useShell();
  const queries = useQueryClient();
  const sheet = reply.sheet;
  // A page's own script comes beside its reply, not after it; and the log, which rests on no assessment.
  useEffect(() => {
    fetchPage(station);
    if (station === "log") void queries.prefetchQuery(newestOf(draft.id));
  }, [station, draft.id, queries]);
  const names = ["build", ...reply.stamps.map((s) => s.station)];
  const nextKey = names[names.indexOf(sheet.station) + 1];
  const next = reply.stamps.find((s) => s.station === nextKey);
  const paged = sheet.station === "bench" || sheet.station === "log";
  const Tried = TRIED[sheet.picture.kind];
  const all = useAllShown();
  const folds = sheet.sections.some((s) => [s, ...(s.rows ?? [])].some((x) => isFolded(x.fields)));
  return (
    <>
      <header className="sheet-head">
        <h2>{sheet.title}</h2>
        <p>{sheet.question}</p>
        {sheet.station !== "wiring" && <PrintStamp reply={reply} />}
        <span className="sheet-tools">
          <Button
            size="small"
            disabled={!draft.undoLabel}
            onClick={draft.undo}
            title={draft.undoLabel ? `Undo: ${draft.undoLabel}` : "Undo"}
          >
            Undo
          </Button>
          <Button
            size="small"
            disabled={!draft.redoLabel}
            onClick={draft.redo}
            title={draft.redoLabel ? `Redo: ${draft.redoLabel}` : "Redo"}
          >
            Redo
          </Button>
          <Button
            size="small"
            disabled={draft.trial !== null}
            onClick={draft.beginTry}
            title="Try changes without saving them"
          >
            Try
          </Button>
          <Button size="small" onClick={onFind}>
            Find
          </Button>
          <Button size="small" onClick={onSpots}>
            Tight spots
          </Button>
          <SheetMenu onWords={onWords} onTour={onTour} />
        </span>
        {next && (
          <Link className="sheet-next" to={`/b/${draft.id}/${next.station}?drive=${reply.drive}`}>
            Next: {next.title}
          </Link>
        )}
      </header>
      <Problem>{draft.save === "conflict" ? "" : draft.problem}</Problem>
      {sheet.station !== station ? (
        <p className="field-help sheet-wait">Opening …</p>
      ) : (
        <div
          className={`columns${paged ? " columns-one" : ""}${sheet.station === "build" ? " columns-build" : sheet.station === "wiring" ? " columns-wide" : ""}`}
          key={sheet.station + reply.drive}
        >
          {!paged && (
            <div className="given">
              <h3 className="column-head">
                Given
                {folds && (
                  <Button size="small" aria-pressed={all} onClick={() => showAll(!all)}>
                    All fields
                  </Button>
                )}
              </h3>
              {sheet.sections.map((s, i) => (
                <Fields key={`${s.path}:${s.title}:${i}`} section={s} />
              ))}
            </div>
          )}
          {sheet.station !== "build" && <Follows sheet={sheet} working={working} paged={paged} />}
          {Tried && (
            <section className="tried" aria-label="Tried out">
              <h3 className="column-head">Tried out</h3>
              <Suspense fallback={null}>
                <Tried picture={sheet.picture} sheet={sheet} />
              </Suspense>
            </section>
          )}
        </div>
      )}
    </>
  );
}

type FollowsProps = { sheet: Sheet; working: ReactNode; paged: boolean };

/* Drawn again when the sheet moves, not with every key: its picture is the dearest thing on the page. */
const Follows = memo(function Follows({ sheet, working, paged }: FollowsProps) {
  const Drawn = PICTURES[sheet.picture.kind];
  return (
    <div className="follows">
      {!paged && <h3 className="column-head">Follows{sheet.subject && `, ${sheet.subject}`}</h3>}
      {sheet.hint && (
        <p className="hint">
          <Explain text={sheet.hint} />
        </p>
      )}
      <Suspense fallback={<div className="picture-wait" />}>
        {Drawn && <Drawn picture={sheet.picture} sheet={sheet} />}
        {sheet.station === "log" && <LogPage />}
      </Suspense>
      {working}
      {sheet.figures.length > 0 && <Figures figures={sheet.figures} />}
      {sheet.findings.length > 0 && sheet.station !== "bench" && <Checks findings={sheet.findings} />}
      {sheet.cautions.length > 0 && (
        <section className="cautions" aria-label="Cautions">
          <h3>Caution</h3>
          <ul>
            {sheet.cautions.map((c) => (
              <li key={c}>
                <Explain text={c} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
});

/** A remedy that the app can apply, with what it changes; undo takes it back. */
function Remedy({ remedy }: { remedy: NonNullable<FindingView["remedy"]> }) {
  const { draft } = useShell();
  const apply = () => draft.edit(remedy.label, (build) => applyChanges(build, [remedy]));
  return (
    <span className="check-remedy">
      <Button size="small" variant="outlined" onClick={apply}>
        {remedy.label}
      </Button>
      <small>{remedy.preview}</small>
    </span>
  );
}

const MARKS: Record<string, string> = { stop: "✕ stops", warn: "! look", tight: "tight", holds: "✓", unknown: "open" };

const Checks = memo(function Checks({ findings }: { findings: FindingView[] }) {
  const { openWorking } = useActions();
  return (
    <section className="checks" aria-label="Checks">
      <h3>Checks</h3>
      <ul>
        {findings.map((f) => (
          <li key={f.key} className={`check check-${f.state}`}>
            <span className="check-mark">{MARKS[f.state]}</span>
            {f.figure && f.use !== null ? (
              <button type="button" className="link" onClick={() => openWorking(f.figure)}>
                {f.title}
              </button>
            ) : (
              <span>{f.title}</span>
            )}
            <span className="check-detail">
              {f.gaps?.length ? <AskedFor text={f.detail} gaps={f.gaps} /> : <Explain text={f.detail} />}
            </span>
            {f.use !== null ? <Bar use={f.use} state={f.state} /> : <span />}
            <span className="num">{f.use_text}</span>
            {(f.state === "stop" || f.state === "warn") && (
              <span className="check-todo">
                <Explain text={f.todo} />
              </span>
            )}
            {f.remedy && <Remedy remedy={f.remedy} />}
          </li>
        ))}
      </ul>
    </section>
  );
});

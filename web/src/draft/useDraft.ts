import { replaceEqualDeep } from "@tanstack/react-query";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { api, take, type Build, type Reply, type Refused } from "@/api/client";
import { Autosave, RETRY_AFTER_MS, type Conflict, type Report, type SaveState } from "./autosave";
import { keepHistory, moved, nothingYet, readHistory, stepped, type History } from "./history";
import { forgetTyped, keepTyped, placeOf, readTyped, type Found } from "./kept";
import { Newest } from "./newest";
import { note } from "./noted";
import { changeAt } from "./paths";
import { forgetTrial, keepTrial, readTrial, TRYING, type Trial } from "./trial";
import { useTrial } from "./useTrial";

export type { Conflict, SaveState };
export type WhatIf = { supply_v: string; gear_ratio: string; motor_torque: string; motor: string };
/** Names this page among the tabs of its browser, for as long as it is loaded. */
const TAB = Math.random().toString(36).slice(2);
export const AS_IT_IS: WhatIf = { supply_v: "", gear_ratio: "", motor_torque: "", motor: "" };
const NOTHING_SAVED: Report = { state: "saved", problem: "", savedAt: "", conflict: null, merges: 0 };

/** The body of a build as its Autosave holds it, for the screen to draw. */
type Open = { id: string; saver: Autosave<Build>; draft: Build };
type Question = { id: string; draft: Build; station: string; drive: string; whatIf: WhatIf };

function later(ms: number, work: () => void): () => void {
  const timer = window.setTimeout(work, ms);
  return () => window.clearTimeout(timer);
}

/** Loads a build and saves it as it is edited; what belongs to another build is never shown or saved here. */
function useSaved(id: string) {
  const [open, setOpen] = useState<Open | null>(null);
  const [report, setReport] = useState<Report>(NOTHING_SAVED);
  const [problem, setProblem] = useState("");
  const current = useRef<Open | null>(null);
  const [typed, setTyped] = useState<Found<Build> | null>(null);
  const trying = useRef<Trial<Build> | null>(null);
  const wanted = useRef(id);
  const loader = useRef<(() => Promise<void>) | null>(null);
  const again = useRef<(() => void) | null>(null);
  wanted.current = id;

  const load = useCallback(async () => {
    try {
      const got = await take(api.GET("/api/builds/{build_id}", { params: { path: { build_id: id } } }));
      if (wanted.current !== id) return;
      const loaded = { body: got.build, version: got.version, savedAt: got.saved_at };
      const place = { params: { path: { build_id: id } } };
      const saver = new Autosave<Build>(loaded, {
        save: (version, build, sibling) =>
          take(api.PUT("/api/builds/{build_id}", { ...place, body: { version, build, sibling } })),
        merge: (base, mine) => take(api.POST("/api/builds/{build_id}/merge", { ...place, body: { base, mine } })),
        merged: (body) => {
          if (current.current?.id !== id) return;
          current.current = { ...current.current, draft: body };
          setOpen(current.current);
        },
        later,
        keep: (version, body) =>
          void keepTyped(placeOf(id, TAB), { body, version, at: new Date().toISOString() }, localStorage),
        forget: () => forgetTyped(placeOf(id, TAB), localStorage),
        report: (told) => {
          if (wanted.current === id) setReport(told);
        },
      });
      const tried = readTrial(id, loaded.body, sessionStorage);
      trying.current = tried?.stands ? tried.trial : null;
      current.current = { id, saver, draft: tried?.stands ? tried.now : loaded.body };
      setOpen(current.current);
      // A try of what the build was before somebody else saved it is offered as what was typed is.
      if (tried && !tried.stands) {
        forgetTrial(id, sessionStorage);
        setTyped({ place: "", body: tried.now, version: -1, at: tried.at });
      } else setTyped(readTyped(id, loaded.body, localStorage));
      setProblem("");
    } catch (error) {
      if (wanted.current !== id) return;
      setProblem((error as Error).message);
      if ((error as Refused).status === 0) again.current = later(RETRY_AFTER_MS, () => void loader.current?.());
    }
  }, [id]);
  loader.current = load;

  useEffect(() => {
    void load();
    return () => {
      const left = current.current;
      current.current = null;
      trying.current = null;
      again.current?.();
      setOpen(null);
      setTyped(null);
      if (left) void left.saver.flush();
    };
  }, [load]);

  const put = useCallback((next: Build) => {
    const own = current.current;
    if (!own) return;
    if (trying.current)
      keepTrial(own.id, { trial: trying.current, now: next, at: new Date().toISOString() }, sessionStorage);
    else own.saver.edited(next);
    current.current = { ...own, draft: next };
    setOpen(current.current);
  }, []);

  /** A try begun, exchanged or ended with what is in hand then; only what is kept is saved. */
  const turn = useCallback(
    (trial: Trial<Build> | null, next: Build) => {
      const own = current.current;
      if (!own) return;
      const kept = trying.current !== null && trial === null && next !== trying.current.base;
      trying.current = trial;
      if (trial === null) forgetTrial(own.id, sessionStorage);
      if (trial !== null || kept) put(next);
      else {
        current.current = { ...own, draft: next };
        setOpen(current.current);
      }
    },
    [put],
  );

  const dropTyped = useCallback(() => {
    if (typed) forgetTyped(typed.place, localStorage);
    setTyped(null);
  }, [typed]);

  const write = useCallback(async () => {
    if (trying.current) throw new Error(TRYING);
    return (await current.current?.saver.flush()) ?? false;
  }, []);

  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      const tried = trying.current !== null && current.current?.draft !== trying.current.base;
      if (!current.current?.saver.pending && !tried) return;
      void current.current?.saver.flush();
      event.preventDefault();
    };
    window.addEventListener("beforeunload", leave);
    return () => window.removeEventListener("beforeunload", leave);
  }, []);

  const clearConflict = useCallback(() => setReport((told) => ({ ...told, conflict: null })), []);
  return { open, latest: current, report, problem, load, put, write, clearConflict, typed, dropTyped, trying, turn };
}

/** What the service makes of the newest draft. */
function useAssessment(question: Question | null) {
  const [reply, setReply] = useState<Reply | null>(null);
  const [problem, setProblem] = useState("");
  const [tick, setTick] = useState(0);
  const refresh = useCallback(() => setTick((t) => t + 1), []);
  const asker = useMemo(
    () =>
      new Newest<Question, Reply>(
        ({ id, draft, station, drive, whatIf }) => {
          const asked = Object.values(whatIf).some(Boolean) ? whatIf : null;
          note("asked");
          return take(
            api.POST("/api/assess", {
              body: { build: draft, station: station as "motor", drive, build_id: id, what_if: asked },
            }),
          );
        },
        (got) => {
          note("answered");
          // What is as it was stays the same object, and is not drawn again.
          setReply((old) => replaceEqualDeep<Reply>(old, got));
          setProblem("");
        },
        (error) => {
          setProblem((error as Error).message);
          if ((error as Refused).status === 0) window.setTimeout(refresh, RETRY_AFTER_MS);
        },
      ),
    [refresh],
  );
  useLayoutEffect(() => note("drawn"), [reply]);
  const { id, draft, station, drive, whatIf } = question ?? {};
  useEffect(() => {
    if (id === undefined || !draft || station === undefined || drive === undefined || !whatIf) return;
    void asker.ask({ id, draft, station, drive, whatIf });
  }, [asker, id, draft, station, drive, whatIf, tick]);
  return { reply, problem, refresh };
}

/** The build being edited: the draft, its undo steps, its autosave, and what the service makes of it. */
export function useDraft(id: string, station: string, drive: string) {
  const saved = useSaved(id);
  const { open, latest, report, problem, load, put, write, clearConflict, typed, dropTyped, trying, turn } = saved;
  const [history, setHistory] = useState<History<Build>>(nothingYet);
  const [whatIf, setWhatIf] = useState<WhatIf>(AS_IT_IS);
  const lastLabel = useRef("");
  const draft = open?.id === id ? open.draft : null;
  const question = useMemo(
    () => (draft ? { id, draft, station, drive, whatIf } : null),
    [id, draft, station, drive, whatIf],
  );
  const { reply, problem: unanswered, refresh } = useAssessment(question);

  useEffect(() => {
    lastLabel.current = "";
    setHistory(readHistory(id, sessionStorage));
  }, [id]);

  const edit = useCallback(
    (label: string, change: (draft: Build) => Build) => {
      const before = latest.current?.draft;
      if (!before) return;
      // Keys in one field are one step: only its first key adds to the history.
      if (label !== lastLabel.current) {
        setHistory((h) => {
          const made = stepped(h, before, label);
          keepHistory(id, made, sessionStorage);
          return made;
        });
        lastLabel.current = label;
      }
      put(change(before));
    },
    [id, latest, put],
  );

  const editAt = useCallback(
    (label: string, path: string, change: (old: unknown) => unknown) => edit(label, (d) => changeAt(d, path, change)),
    [edit],
  );

  const takeTyped = useCallback(() => {
    if (!typed) return;
    edit("what was typed before", () => typed.body);
    dropTyped(); // this tab keeps it now, until it is saved
  }, [dropTyped, edit, typed]);

  /** After a conflict what is saved counts: the steps before it led elsewhere, and would write over it. */
  const goOn = useCallback(() => {
    lastLabel.current = "";
    setHistory(nothingYet());
    keepHistory(id, nothingYet(), sessionStorage);
    clearConflict();
    void load();
  }, [clearConflict, id, load]);

  const step = useCallback(
    (from: "past" | "future") => {
      const now = latest.current?.draft;
      const made = now && moved(history, from, now);
      if (!made) return;
      lastLabel.current = "";
      setHistory(made.history);
      keepHistory(id, made.history, sessionStorage);
      put(made.draft);
    },
    [history, id, latest, put],
  );
  const remember = useCallback(
    (made: History<Build>) => {
      lastLabel.current = "";
      setHistory(made);
      keepHistory(id, made, sessionStorage);
    },
    [id],
  );

  const { beginTry, tryOut, keepTry, dropTry, exchangeTry } = useTrial({
    latest,
    trying,
    turn,
    history,
    remember,
    edit,
  });

  // The steps before a merge led elsewhere, and would write over the other tab's edits.
  useEffect(() => {
    if (report.merges > 0) remember(nothingYet());
  }, [remember, report.merges]);

  const undo = useCallback(() => step("past"), [step]);
  const redo = useCallback(() => step("future"), [step]);

  return useMemo(
    () => ({
      id,
      draft,
      reply,
      save: report.state,
      problem: report.problem || problem || unanswered,
      savedAt: report.savedAt,
      conflict: report.conflict,
      merges: report.merges,
      load,
      write,
      edit,
      editAt,
      undo,
      redo,
      refresh,
      whatIf,
      setWhatIf,
      undoLabel: history.past.at(-1)?.label ?? "",
      redoLabel: history.future.at(-1)?.label ?? "",
      clearConflict,
      goOn,
      typed,
      takeTyped,
      dropTyped,
      trial: open?.id === id ? trying.current : null,
      tried: history.past.length,
      beginTry,
      tryOut,
      keepTry,
      dropTry,
      exchangeTry,
      version: open?.saver.of ?? 0,
    }),
    [
      id,
      draft,
      reply,
      report,
      problem,
      unanswered,
      load,
      write,
      edit,
      editAt,
      undo,
      redo,
      refresh,
      whatIf,
      history,
      clearConflict,
      goOn,
      typed,
      takeTyped,
      dropTyped,
      open,
      trying,
      beginTry,
      tryOut,
      keepTry,
      dropTry,
      exchangeTry,
    ],
  );
}

export type DraftHandle = ReturnType<typeof useDraft>;

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, Refused, take, type Build, type Reply } from "../api/client";
import { changeAt } from "@/shared/paths";

export type SaveState = "saved" | "typing" | "saving" | "offline" | "refused" | "conflict";
export type WhatIf = { supply_v: string; gear_ratio: string; motor: string };
const AS_IT_IS: WhatIf = { supply_v: "", gear_ratio: "", motor: "" };
export type Conflict = { siblingId: string; siblingName: string; detail: string };
type Step = { draft: Build; label: string };
type History = { past: Step[]; future: Step[] };

const SAVE_AFTER_MS = 500;
const RETRY_AFTER_MS = 3000;
const MOST_STEPS = 60;

function readHistory(id: string): History {
  try {
    const kept = JSON.parse(sessionStorage.getItem(`undo:${id}`) ?? "") as History;
    return Array.isArray(kept.past) && Array.isArray(kept.future) ? kept : { past: [], future: [] };
  } catch {
    return { past: [], future: [] };
  }
}

function keepHistory(id: string, history: History) {
  try {
    sessionStorage.setItem(`undo:${id}`, JSON.stringify(history));
  } catch {
    sessionStorage.removeItem(`undo:${id}`);
  }
}

/** The build being edited: the draft, its undo steps, its autosave, and what the service makes of it. */
export function useDraft(id: string, station: string, drive: string) {
  const [draft, setDraft] = useState<Build | null>(null);
  const [reply, setReply] = useState<Reply | null>(null);
  const [save, setSave] = useState<SaveState>("saved");
  const [problem, setProblem] = useState("");
  const [savedAt, setSavedAt] = useState("");
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [history, setHistory] = useState<History>({ past: [], future: [] });
  const [tick, setTick] = useState(0);
  const [whatIf, setWhatIf] = useState<WhatIf>(AS_IT_IS);
  const version = useRef(0);
  const latest = useRef<Build | null>(null);
  const written = useRef<Build | null>(null);
  const lastLabel = useRef("");
  const timer = useRef<number | undefined>(undefined);
  const saving = useRef<Promise<boolean> | null>(null);
  const stopped = useRef(false);

  const load = useCallback(async () => {
    try {
      const got = await take(api.GET("/api/builds/{build_id}", { params: { path: { build_id: id } } }));
      version.current = got.version;
      latest.current = written.current = got.build as Build;
      stopped.current = false;
      setDraft(got.build as Build);
      setSavedAt(got.saved_at);
      setSave("saved");
      setProblem("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  }, [id]);

  useEffect(() => {
    setHistory(readHistory(id));
    void load();
  }, [id, load]);

  const write = useCallback(async (): Promise<boolean> => {
    window.clearTimeout(timer.current);
    if (saving.current) await saving.current;
    const body = latest.current;
    if (!body || body === written.current || stopped.current) return !stopped.current;
    setSave("saving");
    const job = (async () => {
      try {
        const done = await take(
          api.PUT("/api/builds/{build_id}", {
            params: { path: { build_id: id } },
            body: { version: version.current, build: body },
          }),
        );
        version.current = done.version;
        written.current = body;
        setSavedAt(done.saved_at);
        setProblem("");
        setSave(latest.current === body ? "saved" : "typing");
        return true;
      } catch (error) {
        const refused = error as Refused;
        setProblem(refused.message);
        if (refused.status === 409) {
          const told = refused.body as { sibling_id: string; sibling_name: string };
          stopped.current = true;
          setConflict({ siblingId: told.sibling_id, siblingName: told.sibling_name, detail: refused.message });
          setSave("conflict");
        } else if (refused.status === 0) {
          setSave("offline");
          timer.current = window.setTimeout(() => void write(), RETRY_AFTER_MS);
        } else setSave("refused");
        return false;
      }
    })();
    saving.current = job;
    const good = await job;
    saving.current = null;
    if (good && latest.current !== written.current)
      timer.current = window.setTimeout(() => void write(), SAVE_AFTER_MS);
    return good;
  }, [id]);

  const put = useCallback(
    (next: Build) => {
      latest.current = next;
      setDraft(next);
      setSave("typing");
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void write(), SAVE_AFTER_MS);
    },
    [write],
  );

  const edit = useCallback(
    (label: string, change: (draft: Build) => Build) => {
      const before = latest.current;
      if (!before) return;
      const next = change(before);
      // Keys in one field are one step: only its first key adds to the history.
      if (label !== lastLabel.current) {
        setHistory((h) => {
          const made = { past: [...h.past, { draft: before, label }].slice(-MOST_STEPS), future: [] };
          keepHistory(id, made);
          return made;
        });
        lastLabel.current = label;
      }
      put(next);
    },
    [id, put],
  );

  const editAt = useCallback(
    (label: string, path: string, change: (old: unknown) => unknown) => edit(label, (d) => changeAt(d, path, change)),
    [edit],
  );

  const step = useCallback(
    (from: "past" | "future", to: "past" | "future") => {
      const now = latest.current;
      const found = history[from].at(-1);
      if (!now || !found) return;
      const made = {
        ...history,
        [from]: history[from].slice(0, -1),
        [to]: [...history[to], { draft: now, label: found.label }],
      };
      lastLabel.current = "";
      setHistory(made);
      keepHistory(id, made);
      put(found.draft);
    },
    [history, id, put],
  );
  const undo = useCallback(() => step("past", "future"), [step]);
  const redo = useCallback(() => step("future", "past"), [step]);

  // One request at a time; the newest draft goes as soon as the last reply is in, so a slow reply is never shown late.
  const asking = useRef(false);
  const wanted = useRef<{ draft: Build; station: string; drive: string; whatIf: WhatIf } | null>(null);
  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    while (wanted.current) {
      const { draft: build, station: at, drive: of, whatIf: other } = wanted.current;
      const asked = Object.values(other).some(Boolean) ? other : null;
      wanted.current = null;
      try {
        const got = await take(
          api.POST("/api/assess", { body: { build, station: at as "motor", drive: of, build_id: id, what_if: asked } }),
        );
        if (!wanted.current) {
          setReply(got);
          setProblem((p) => (p.startsWith("The service") ? "" : p));
        }
      } catch (error) {
        setProblem((error as Error).message);
        if ((error as Refused).status === 0) {
          window.setTimeout(() => setTick((t) => t + 1), RETRY_AFTER_MS);
        }
      }
    }
    asking.current = false;
  }, [id]);

  useEffect(() => {
    if (!draft) return;
    wanted.current = { draft, station, drive, whatIf };
    void ask();
  }, [draft, station, drive, tick, whatIf, ask]);

  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      if (latest.current !== written.current && !stopped.current) {
        void write();
        event.preventDefault();
      }
    };
    window.addEventListener("beforeunload", leave);
    return () => window.removeEventListener("beforeunload", leave);
  }, [write]);

  useEffect(() => () => void write(), [write]);

  const refresh = useCallback(() => setTick((t) => t + 1), []);
  return useMemo(
    () => ({
      id,
      draft,
      reply,
      save,
      problem,
      savedAt,
      conflict,
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
      clearConflict: () => setConflict(null),
    }),
    [
      id,
      draft,
      reply,
      save,
      problem,
      savedAt,
      conflict,
      load,
      write,
      edit,
      editAt,
      undo,
      redo,
      refresh,
      whatIf,
      history,
    ],
  );
}

export type DraftHandle = ReturnType<typeof useDraft>;

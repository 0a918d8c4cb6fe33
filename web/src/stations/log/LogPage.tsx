import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, transfer, type Entry } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveBlob } from "@/shared/files";
import { FilePicker } from "@/shared/FilePicker";
import { keepFile } from "@/shared/KeepFile";
import { OneOf } from "@/shared/OneOf";
import { Retune } from "@/shared/Retune";
import { newestOf, SHOWN_FIRST } from "./newest";
import "./log.css";

const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });
const hour = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

const VERDICTS: Record<string, string> = { pass: "✓ pass", fail: "✕ fail", doubtful: "? doubtful" };
type TopicKey = Entry["topic"];
const KINDS = [
  { key: "all", label: "All" },
  { key: "note", label: "Notes" },
  { key: "reading", label: "Readings" },
  { key: "revision", label: "Revisions" },
  { key: "file", label: "Pictures and captures" },
] as const;

/** Notes, readings and revisions in order of time, newest first. */
export default function LogPage() {
  const { draft, say } = useShell();
  const queries = useQueryClient();
  const [text, setText] = useKept(`log-text ${draft.id}`);
  const [topic, setTopic] = useState<TopicKey>("note");
  const [details, setDetails] = useState<Record<string, string>>({});
  const [many, setMany] = useState(SHOWN_FIRST);
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState<(typeof KINDS)[number]["key"]>("all");
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(async () => {
      const response = await transfer(`/api/builds/${draft.id}/log.zip`);
      saveBlob("log.zip", await response.blob());
    });
  const path = { build_id: draft.id };
  const key = ["log", draft.id];
  const newest = useQuery({ ...newestOf(draft.id), refetchOnMount: false });
  const whole = useQuery({
    queryKey: key,
    refetchOnMount: "always",
    enabled: newest.isFetched,
    structuralSharing: false,
    queryFn: () => take(api.GET("/api/builds/{build_id}/log", { params: { path } })),
  });
  const list = whole.data ? whole : newest;
  const again = useQuery({
    queryKey: ["retuning", draft.id, draft.draft],
    gcTime: 0,
    enabled: draft.draft !== null && !draft.trial,
    queryFn: () =>
      take(
        api.POST("/api/builds/{build_id}/retuning", {
          params: { path },
          body: { after: draft.draft as never, log: false },
        }),
      ),
  });
  const keep = (entries: Promise<Entry[]>) =>
    entries
      .then((e) => {
        queries.setQueryData(key, e);
        draft.refresh();
        return true;
      })
      .catch((error: Error) => {
        say(error.message);
        return false;
      });
  const add = async () => {
    if (!text.trim()) return;
    const body = { text, topic, details };
    if (await keep(take(api.POST("/api/builds/{build_id}/log", { params: { path }, body })))) {
      setText("");
      setDetails({});
    }
  };
  const keepAgain = () =>
    attempt(async () => {
      const body = { after: draft.draft as never, log: true };
      await take(api.POST("/api/builds/{build_id}/retuning", { params: { path }, body }));
      await Promise.all([whole.refetch(), again.refetch()]);
    });
  const settle = (e: Entry) =>
    keep(
      take(api.POST("/api/builds/{build_id}/log/{entry_id}/settle", { params: { path: { ...path, entry_id: e.id } } })),
    );
  const topics = useQuery({
    queryKey: ["log topics"],
    staleTime: Infinity,
    queryFn: () => take(api.GET("/api/log/topics")),
  });
  const totals = useQuery({
    queryKey: ["log totals", draft.id, list.dataUpdatedAt],
    queryFn: () => take(api.GET("/api/builds/{build_id}/log/totals", { params: { path } })),
  });
  const labels = new Map((topics.data ?? []).map((t) => [t.key, t]));
  const asked = labels.get(topic)?.asks ?? [];
  const standing = (list.data ?? []).filter((e) => e.open);
  const picture = (file: File) =>
    attempt(async () => {
      queries.setQueryData(key, await keepFile(draft.id, "photo", file, file.name, text));
      setText("");
    });
  const wanted = search.trim().toLowerCase();
  const shown = (list.data ?? []).filter(
    (e) =>
      (kind === "all" || e.kind === kind || (kind === "file" && e.file !== "")) &&
      (!wanted ||
        `${e.text} ${e.verdict} ${e.at} ${e.file} ${labels.get(e.topic)?.label ?? ""} ${Object.values(e.details).join(" ")}`
          .toLowerCase()
          .includes(wanted)),
  );
  const days = new Map<string, Entry[]>();
  for (const e of shown.slice(0, many)) {
    const name = day.format(new Date(e.at));
    days.set(name, [...(days.get(name) ?? []), e]);
  }
  return (
    <div className="log">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <span className="log-topic">
          <label htmlFor="log-topic">What it is</label>
          <select
            id="log-topic"
            className="field-choice"
            value={topic}
            onChange={(e) => setTopic(e.target.value as TopicKey)}
          >
            {(topics.data ?? []).map((t) => (
              <option key={t.key} value={t.key}>
                {t.label}
              </option>
            ))}
          </select>
        </span>
        <label htmlFor="log-text">Write down what was done, changed or learnt</label>
        <textarea
          id="log-text"
          rows={2}
          maxLength={5000}
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) void add();
          }}
        />
        {asked.map((f) => (
          <label key={f.key} className="log-detail">
            {f.label}
            <input
              value={details[f.key] ?? ""}
              maxLength={1000}
              onChange={(e) => setDetails({ ...details, [f.key]: e.target.value })}
            />
          </label>
        ))}
        <p className="button-row">
          <Button type="submit" variant="contained" disabled={!text.trim()}>
            Add to the log
          </Button>
          <FilePicker
            size="small"
            label="A picture for the log"
            accept="image/jpeg,image/png,image/webp"
            onPick={(file) => void picture(file)}
          >
            Add a picture …
          </FilePicker>
        </p>
      </form>
      {again.data && again.data.rows.length > 0 && !again.data.logged && (
        <section className="log-open" aria-label="To be set again">
          <h3>To be set again, since revision {again.data.since}</h3>
          <Retune rows={again.data.rows} />
          <Button size="small" onClick={() => void keepAgain()}>
            Into the log, until it is done
          </Button>
        </section>
      )}
      {standing.length > 0 && (
        <section className="log-open" aria-label="Still open">
          <h3>Still open</h3>
          <ul className="plain-list">
            {standing.map((e) => (
              <li key={e.id}>
                <span>
                  <b>{labels.get(e.topic)?.open_as}:</b> {e.details["undo"] ?? e.text}
                </span>
                <Button size="small" aria-label={`Done: ${e.details["undo"] ?? e.text}`} onClick={() => void settle(e)}>
                  Done
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {(totals.data?.hours || totals.data?.spent) && (
        <p className="field-help">Together: {[totals.data.hours, totals.data.spent].filter(Boolean).join(", ")}.</p>
      )}
      <div className="log-tools">
        <OneOf label="Which entries" choices={KINDS} value={kind} onChoose={setKind} />
        <span className="log-search">
          <label htmlFor="log-search">Search</label>
          <input id="log-search" type="search" value={search} onChange={(e) => setSearch(e.target.value)} />
        </span>
        <Button size="small" onClick={() => void give()}>
          Export as Markdown, with pictures
        </Button>
      </div>
      <Problem>{problem || list.error?.message}</Problem>
      {!!list.data?.length && !shown.length && <p className="hint">No entry has that.</p>}
      {list.data?.length === 0 && (
        <p className="hint">Nothing yet. Readings taken at Bench and revisions come here by themselves.</p>
      )}
      {shown.length > many && (
        <p className="field-help">
          The newest {many} of {shown.length}.{" "}
          <Button size="small" onClick={() => setMany(many + SHOWN_FIRST)}>
            Show {Math.min(SHOWN_FIRST, shown.length - many)} more
          </Button>
        </p>
      )}
      {[...days].map(([name, entries]) => (
        <section key={name} aria-label={name}>
          <h3>{name}</h3>
          <ol>
            {entries.map((e) => (
              <li key={e.id} className={`entry entry-${e.kind}${e.withdrawn ? " entry-withdrawn" : ""}`}>
                <time dateTime={e.at}>{hour.format(new Date(e.at))}</time>
                <span className="entry-kind">
                  {e.kind === "revision"
                    ? `revision ${e.number}`
                    : e.kind === "note"
                      ? (labels.get(e.topic)?.label ?? "Note").toLowerCase()
                      : e.kind}
                </span>
                <span className="entry-text">
                  {e.text}
                  {e.withdrawn && " (withdrawn)"}
                  {(labels.get(e.topic)?.asks ?? [])
                    .filter((f) => e.details[f.key])
                    .map((f) => (
                      <small key={f.key} className="entry-detail">
                        {f.label}: {e.details[f.key]}
                      </small>
                    ))}
                  {e.settled && <small className="entry-detail">Done.</small>}
                  {e.file && <File entry={e} build={draft.id} />}
                </span>
                {e.verdict && <span className={`verdict verdict-${e.verdict}`}>{VERDICTS[e.verdict] ?? "open"}</span>}
                {e.kind !== "revision" && !e.withdrawn && (
                  <Button
                    size="small"
                    aria-label={`Withdraw: ${e.text}`}
                    onClick={() =>
                      void keep(
                        take(
                          api.POST("/api/builds/{build_id}/log/{kind}/{entry_id}/withdraw", {
                            params: { path: { ...path, kind: e.kind as "note", entry_id: e.id } },
                          }),
                        ),
                      )
                    }
                  >
                    Withdraw
                  </Button>
                )}
              </li>
            ))}
          </ol>
        </section>
      ))}
    </div>
  );
}

/** A picture as it is kept, or a capture to be saved. */
function File({ entry, build }: { entry: Entry; build: string }) {
  const address = `/api/files/${build}/${entry.id}`;
  return (
    <a className="entry-file" href={address} target="_blank" rel="noreferrer">
      {entry.kind === "photo" ? (
        <img src={address} alt={entry.text || entry.file} loading="lazy" />
      ) : (
        <>
          {entry.file}, {entry.number ? `at revision ${entry.number}` : "before any revision"}
        </>
      )}
    </a>
  );
}

/** What is being written survives a reload, in this browser. */
function useKept(key: string): [string, (text: string) => void] {
  const [text, setText] = useState(() => localStorage.getItem(key) ?? "");
  const change = (next: string) => {
    setText(next);
    if (next) localStorage.setItem(key, next);
    else localStorage.removeItem(key);
  };
  return [text, change];
}

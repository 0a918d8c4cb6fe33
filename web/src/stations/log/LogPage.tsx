import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, transfer, type Entry } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveFile } from "@/shared/files";
import { OneOf } from "@/shared/OneOf";
import "./log.css";

const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });
const hour = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

const VERDICTS: Record<string, string> = { pass: "✓ pass", fail: "✕ fail", doubtful: "? doubtful" };
const KINDS = [
  { key: "all", label: "All" },
  { key: "note", label: "Notes" },
  { key: "reading", label: "Readings" },
  { key: "revision", label: "Revisions" },
] as const;

/** Notes, readings and revisions in order of time, newest first. */
export default function LogPage() {
  const { draft, say } = useShell();
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState<(typeof KINDS)[number]["key"]>("all");
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(async () => {
      const response = await transfer(`/api/builds/${draft.id}/log.md`);
      saveFile("log.md", await response.text(), "text/markdown");
    });
  const path = { build_id: draft.id };
  const key = ["log", draft.id];
  const list = useQuery({
    queryKey: key,
    refetchOnMount: "always",
    queryFn: () => take(api.GET("/api/builds/{build_id}/log", { params: { path } })),
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
    if (await keep(take(api.POST("/api/builds/{build_id}/log", { params: { path }, body: { text } })))) setText("");
  };
  const wanted = search.trim().toLowerCase();
  const shown = (list.data ?? []).filter(
    (e) =>
      (kind === "all" || e.kind === kind) &&
      (!wanted || `${e.text} ${e.verdict} ${e.at}`.toLowerCase().includes(wanted)),
  );
  const days = new Map<string, Entry[]>();
  for (const e of shown) {
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
        <Button type="submit" variant="contained" disabled={!text.trim()}>
          Add to the log
        </Button>
      </form>
      <div className="log-tools">
        <OneOf label="Which entries" choices={KINDS} value={kind} onChoose={setKind} />
        <label htmlFor="log-search">Search</label>
        <input id="log-search" type="search" value={search} onChange={(e) => setSearch(e.target.value)} />
        <Button size="small" onClick={() => void give()}>
          Export as Markdown
        </Button>
      </div>
      <Problem>{problem || list.error?.message}</Problem>
      {!!list.data?.length && !shown.length && <p className="hint">No entry has that.</p>}
      {list.data?.length === 0 && (
        <p className="hint">Nothing yet. Readings taken at Bench and revisions come here by themselves.</p>
      )}
      {[...days].map(([name, entries]) => (
        <section key={name} aria-label={name}>
          <h3>{name}</h3>
          <ol>
            {entries.map((e) => (
              <li key={e.id} className={`entry entry-${e.kind}${e.withdrawn ? " entry-withdrawn" : ""}`}>
                <time dateTime={e.at}>{hour.format(new Date(e.at))}</time>
                <span className="entry-kind">{e.kind === "revision" ? `revision ${e.number}` : e.kind}</span>
                <span className="entry-text">
                  {e.text}
                  {e.withdrawn && " (withdrawn)"}
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

import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Entry } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem } from "@/shared/attempt";
import "./log.css";

const day = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });
const hour = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** Notes, readings and revisions in order of time, newest first. */
export default function LogPage() {
  const { draft, say } = useShell();
  const queries = useQueryClient();
  const [text, setText] = useState("");
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
  const days = new Map<string, Entry[]>();
  for (const e of list.data ?? []) {
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
      <Problem>{list.error?.message}</Problem>
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
                {e.verdict && (
                  <span className={`verdict verdict-${e.verdict}`}>
                    {e.verdict === "pass" ? "✓ pass" : e.verdict === "fail" ? "✕ fail" : "open"}
                  </span>
                )}
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

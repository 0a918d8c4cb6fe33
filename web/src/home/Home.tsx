import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, take } from "../api/client";
import { saveFile } from "@/shared/files";

/** The builds: open one, start one, take one in. */
export function Home() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [problem, setProblem] = useState("");
  const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
  const [renaming, setRenaming] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const list = useQuery({
    queryKey: ["builds"],
    queryFn: () => take(api.GET("/api/builds")),
    refetchOnMount: "always",
  });
  useEffect(() => {
    document.title = "Builds: Zinc Whistle";
  }, []);

  const attempt = async (act: () => Promise<void>) => {
    setProblem("");
    try {
      await act();
    } catch (error) {
      setProblem((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ["builds"] });
  };
  const create = () =>
    attempt(async () => {
      const made = await take(api.POST("/api/builds", { body: { name: name.trim() || "New build" } }));
      void navigate(`/b/${made.id}/motor`);
    });
  const takeIn = (picked: File) =>
    attempt(async () => {
      const text = await picked.text();
      const response = await fetch("/api/builds/import", {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: text,
      });
      const got = (await response.json()) as { id?: string; detail?: string };
      if (!response.ok) throw new Error(`${picked.name}: ${got.detail ?? "that was refused."}`);
      void navigate(`/b/${got.id}/motor`);
    });
  const params = (id: string) => ({ params: { path: { build_id: id } } });
  const rename = (id: string, next: string) =>
    attempt(async () => {
      setRenaming("");
      const kept = await take(api.GET("/api/builds/{build_id}", params(id)));
      if (!next.trim() || next.trim() === kept.build.name) return;
      await take(
        api.PUT("/api/builds/{build_id}", {
          ...params(id),
          body: { version: kept.version, build: { ...kept.build, name: next.trim() } },
        }),
      );
    });

  return (
    <main className="home">
      <header>
        <img src="/mark.svg" alt="" width="40" height="40" />
        <div>
          <h1>Zinc Whistle</h1>
          <p>From a motor in the hand to a wired, tested and logged driver board.</p>
        </div>
      </header>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      {list.error && (
        <p className="problem" role="alert">
          {list.error.message}
        </p>
      )}
      <ul className="builds">
        {list.data?.map((b) => (
          <li key={b.id}>
            {renaming === b.id ? (
              <form
                onSubmit={(e) => {
                  e.preventDefault();
                  void rename(b.id, new FormData(e.currentTarget).get("name") as string);
                }}
              >
                <input
                  name="name"
                  className="rename"
                  defaultValue={b.name}
                  maxLength={80}
                  autoFocus
                  aria-label={`New name of ${b.name}`}
                  onKeyDown={(e) => e.key === "Escape" && setRenaming("")}
                />
                <Button size="small" type="submit">
                  Keep the name
                </Button>
              </form>
            ) : (
              <Link to={`/b/${b.id}/motor`}>{b.name}</Link>
            )}
            <small>
              saved {new Date(b.saved_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
              {b.revisions > 0 && `, ${b.revisions} ${b.revisions === 1 ? "revision" : "revisions"}`}
            </small>
            <span className="builds-acts">
              <Button size="small" aria-label={`Rename ${b.name}`} onClick={() => setRenaming(b.id)}>
                Rename
              </Button>
              <Button
                size="small"
                aria-label={`Duplicate ${b.name}`}
                onClick={() =>
                  void attempt(async () => {
                    await take(api.POST("/api/builds/{build_id}/duplicate", params(b.id)));
                  })
                }
              >
                Duplicate
              </Button>
              <Button
                size="small"
                aria-label={`Export ${b.name}`}
                onClick={() =>
                  void attempt(async () => {
                    saveFile(
                      `${b.name}.json`,
                      JSON.stringify(await take(api.GET("/api/builds/{build_id}/export", params(b.id))), null, 1),
                    );
                  })
                }
              >
                Export
              </Button>
              <Button
                size="small"
                color="error"
                aria-label={`Delete ${b.name}`}
                onClick={() =>
                  void attempt(async () => {
                    await take(api.DELETE("/api/builds/{build_id}", params(b.id)));
                    setGone({ id: b.id, name: b.name });
                  })
                }
              >
                Delete
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {list.data?.length === 0 && (
        <p className="hint">
          No build yet. Give the first one a name: the thing that moves, say. Then start at Motor with a few readings.
        </p>
      )}
      <form
        className="start"
        onSubmit={(e) => {
          e.preventDefault();
          void create();
        }}
      >
        <TextField
          variant="standard"
          label="Name of a new build"
          value={name}
          onChange={(e) => setName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
        />
        <Button type="submit" variant="contained">
          Start a build
        </Button>
        <Button onClick={() => file.current?.click()}>Import a build file</Button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          hidden
          aria-label="Build file"
          onChange={(e) => {
            const picked = e.target.files?.[0];
            e.target.value = "";
            if (picked) void takeIn(picked);
          }}
        />
      </form>
      <p className="home-caution">
        Motors, batteries and hot parts can hurt. What is worked out here does not replace local codes or a licensed
        person where they are called for: mains, gates, lifts, vehicles.
      </p>
      <Snackbar
        open={gone !== null}
        onClose={(_, why) => why !== "clickaway" && setGone(null)}
        autoHideDuration={20000}
        message={`${gone?.name} is deleted.`}
        action={
          <Button
            size="small"
            color="inherit"
            onClick={() =>
              void attempt(async () => {
                if (gone) await take(api.POST("/api/builds/{build_id}/undelete", params(gone.id)));
                setGone(null);
              })
            }
          >
            Take it back
          </Button>
        }
      />
    </main>
  );
}

import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, sendFile, take } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { FilePicker } from "@/shared/FilePicker";
import { saveFile } from "@/shared/files";
import { Card } from "./Card";
import { useOverview } from "./overview";
import "./home.css";

const MANY = 6;
type Order = "saved" | "name" | "stops";

/** The builds: open one, start one, take one in. */
export function Home() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const { problem, attempt: tried } = useAttempt();
  const [gone, setGone] = useState<{ id: string; name: string } | null>(null);
  const [renaming, setRenaming] = useState("");
  const list = useQuery({
    queryKey: ["builds"],
    queryFn: () => take(api.GET("/api/builds")),
    refetchOnMount: "always",
  });
  const overview = useOverview();
  const [sought, setSought] = useState("");
  const [by, setBy] = useState<Order>("saved");
  const cards = new Map(overview.data?.cards.map((c) => [c.build, c]));
  const stops = (id: string) => cards.get(id)?.stamps.filter((s) => s.state === "stops").length ?? 0;
  const shown = list.data
    ?.filter((b) => b.name.toLowerCase().includes(sought.trim().toLowerCase()))
    .sort((a, b) => (by === "name" ? a.name.localeCompare(b.name) : by === "stops" ? stops(b.id) - stops(a.id) : 0));
  useEffect(() => {
    document.title = "Builds: Zinc Whistle";
  }, []);

  const attempt = async (act: () => Promise<void>) => {
    await tried(act);
    await queries.invalidateQueries({ queryKey: ["builds"] });
    await queries.invalidateQueries({ queryKey: ["overview"] });
  };
  const create = () =>
    attempt(async () => {
      const made = await take(api.POST("/api/builds", { body: { name: name.trim() || "New build" } }));
      void navigate(`/b/${made.id}/motor`);
    });
  const takeIn = (picked: File) =>
    attempt(async () => {
      const got = await sendFile<{ id: string }>("/api/builds/import", picked, "application/json");
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
          body: { version: kept.version, build: { ...kept.build, name: next.trim() }, sibling: true },
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
      <Problem>{problem}</Problem>
      <Problem>{list.error?.message}</Problem>
      {(list.data?.length ?? 0) > MANY && (
        <p className="button-row">
          <TextField size="small" label="Search by name" value={sought} onChange={(e) => setSought(e.target.value)} />
          <label className="home-order">
            Order{" "}
            <select className="field-choice" value={by} onChange={(e) => setBy(e.target.value as Order)}>
              <option value="saved">last saved first</option>
              <option value="name">by name</option>
              <option value="stops">what stops first</option>
            </select>
          </label>
        </p>
      )}
      {shown?.length === 0 && sought && <p role="status">No build is called so.</p>}
      <ul className="builds">
        {shown?.map((b) => (
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
            {cards.has(b.id) && <Card card={cards.get(b.id)!} />}
          </li>
        ))}
      </ul>
      {list.data?.length === 0 && (
        <p className="hint">No build yet. Answer what decides and see what it comes to, or begin with an empty one.</p>
      )}
      <p>
        <Button variant="contained" onClick={() => void navigate("/new")}>
          A first verdict in two minutes
        </Button>{" "}
        {list.data?.[0] && (
          <Button
            onClick={() => {
              const first = list.data.find((b) => b.id === "lantern-carousel") ?? list.data[0];
              localStorage.setItem("tour", JSON.stringify({ at: 0, shown: true }));
              void navigate(`/b/${first?.id}/motor`);
            }}
          >
            Tour in six steps
          </Button>
        )}{" "}
        {(list.data?.length ?? 0) > 0 && <Link to="/across">What the builds teach one another</Link>}
      </p>
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
        <Button type="submit" variant="outlined">
          Start a build
        </Button>
        <FilePicker label="Build file" accept=".json,application/json" onPick={(picked) => void takeIn(picked)}>
          Import a build file
        </FilePicker>
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

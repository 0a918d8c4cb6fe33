import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, sendFile, take, transfer } from "@/api/client";
import type { components } from "@/../generated/schema";
import { useShell } from "@/draft/context";
import { getAt } from "@/draft/paths";
import { Problem, useAttempt } from "../attempt";
import { FileButtons } from "../shelf/FileButtons";
import { saveFile } from "../files";
import { Pins, Timers } from "./tables";
import { Which } from "./Which";
import "./controller.css";

type Controller = components["schemas"]["Controller"];
type Taken = components["schemas"]["PartsTaken"];

/** The buttons that open a controller's pins and timers, and the comparison with others. */
export function ControllerEditor({ path }: { path: string }) {
  const [open, setOpen] = useState<"" | "pins" | "which">("");
  const close = () => setOpen("");
  const { draft, say } = useShell();
  const { problem, attempt } = useAttempt();
  const id = path.split(".")[1] ?? "";
  const second = () =>
    attempt(async () => {
      if (!draft.draft) return;
      const made = await take(api.POST("/api/controllers/second", { body: { build: draft.draft, controller: id } }));
      draft.edit("A second controller", () => made);
      say("There are two of it now, with their drives: one program serves both.");
    });
  return (
    <div className="button-row">
      <Button size="small" variant="outlined" onClick={() => setOpen("pins")}>
        Pins and timers …
      </Button>
      <Button size="small" variant="outlined" onClick={() => setOpen("which")}>
        Which controller? …
      </Button>
      <Button size="small" variant="outlined" onClick={() => void second()}>
        A second one, same program
      </Button>
      {open === "pins" && <ControllerDialog path={path} onClose={close} />}
      {open === "which" && <Which id={id} onClose={close} />}
      <Problem>{problem}</Problem>
    </div>
  );
}

function ControllerDialog({ path, onClose }: { path: string; onClose: () => void }) {
  const { draft } = useShell();
  const controller = getAt(draft.draft, path) as Controller | undefined;
  const text = JSON.stringify(controller ?? null);
  const checked = useQuery({
    queryKey: ["profile", text],
    queryFn: () => take(api.POST("/api/controllers/check", { body: JSON.parse(text) as Controller })),
    enabled: controller !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 0,
  });
  if (!controller) return null;
  const wrong = checked.data ?? [];
  const edit = <K extends "pins" | "timers">(label: string, list: K, to: NonNullable<Controller[K]>) =>
    draft.editAt(label, `${path}.${list}`, () => to);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xl" aria-labelledby="controller-title">
      <div className="dialog controller-editor">
        <h2 id="controller-title">Pins and timers of {controller.name || "this controller"}</h2>
        <p className="field-help">
          As its own sheet and its print tell them: what is ticked here is what signals, wiring and program go by. Undo
          takes any of it back.
        </p>
        <div role="status" className={wrong.length > 0 ? "next" : undefined}>
          {wrong.length === 0 ? (
            <p className="field-help">Nothing contradicts itself.</p>
          ) : (
            <ul>
              {wrong.slice(0, 6).map((w) => (
                <li key={w.path + w.sentence}>{w.sentence}</li>
              ))}
              {wrong.length > 6 && <li>{wrong.length - 6} more.</li>}
            </ul>
          )}
        </div>
        <Timers timers={controller.timers ?? []} onEdit={(label, to) => edit(label, "timers", to)} />
        <Pins
          pins={controller.pins ?? []}
          timers={controller.timers ?? []}
          inC={controller.program === "avr"}
          wrong={new Set(wrong.map((w) => w.path))}
          onEdit={(label, to) => edit(label, "pins", to)}
        />
        <Shelf controller={controller} usable={wrong.length === 0} />
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

/** One's own profiles: kept, taken away, as files in and out. */
function Shelf({ controller, usable }: { controller: Controller; usable: boolean }) {
  const { say } = useShell();
  const queries = useQueryClient();
  const { problem, attempt } = useAttempt();
  const [bad, setBad] = useState<Taken["bad"]>([]);
  const all = useQuery({ queryKey: ["controllers"], queryFn: () => take(api.GET("/api/controllers")) });
  const changed = async (words: string) => {
    await queries.invalidateQueries({ queryKey: ["controllers"] });
    say(words);
  };
  const keep = () =>
    attempt(async () => {
      const kept = await take(api.POST("/api/controllers", { body: controller }));
      await changed(`${kept.name} is on the shelf.`);
    });
  const correct = (id: string, name: string) =>
    attempt(async () => {
      await take(
        api.PUT("/api/controllers/{controller_id}", { params: { path: { controller_id: id } }, body: controller }),
      );
      void queries.invalidateQueries({ queryKey: ["offers"] });
      await changed(`${name} is corrected. Builds that hold a copy are offered what changed.`);
    });
  const drop = (id: string, name: string) =>
    attempt(async () => {
      await take(api.DELETE("/api/controllers/{controller_id}", { params: { path: { controller_id: id } } }));
      await changed(`${name} is off the shelf. Builds that hold a copy keep it.`);
    });
  const takeIn = (file: File) =>
    attempt(async () => {
      const form = file.name.toLowerCase().endsWith(".json") ? "json" : "csv";
      const got = await sendFile<Taken>(`/api/controllers/import?format=${form}`, file, "text/csv");
      setBad(got.bad);
      if (got.kept > 0) await changed(`${got.kept} ${got.kept === 1 ? "profile is" : "profiles are"} on the shelf.`);
    });
  const giveOut = (form: "csv" | "json") =>
    attempt(async () => {
      const response = await transfer(`/api/controllers/export?format=${form}`);
      saveFile(`controllers.${form}`, await response.text(), form === "csv" ? "text/csv" : "application/json");
    });
  const own = all.data?.filter((c) => !c.sample) ?? [];
  return (
    <section aria-label="Profiles of your own">
      <h3>Profiles of your own</h3>
      <p className="button-row">
        <Button variant="contained" disabled={!usable} onClick={() => void keep()}>
          Keep this one on the shelf
        </Button>
        <FileButtons
          label="Profile file"
          onPick={(picked) => void takeIn(picked)}
          onGive={(form) => void giveOut(form)}
        />
      </p>
      <Problem>{problem}</Problem>
      {bad.length > 0 && (
        <div className="next" role="alert">
          <p>Nothing was kept:</p>
          <ul>
            {bad.slice(0, 8).map((b) => (
              <li key={`${b.line} ${b.sentence}`}>
                Line {b.line}: {b.sentence}
              </li>
            ))}
          </ul>
        </div>
      )}
      {own.length === 0 ? (
        <p className="field-help">None yet. “Profile from the shelf” offers them beside those that ship.</p>
      ) : (
        <ul className="plain-list motor-shelf">
          {own.map((c) => (
            <li key={c.id}>
              <b>{c.name}</b>
              <Button
                size="small"
                disabled={!usable}
                aria-label={`Correct ${c.name} by this one`}
                onClick={() => void correct(c.id, c.name ?? "")}
              >
                Correct by this one
              </Button>
              <Button size="small" aria-label={`Take away ${c.name}`} onClick={() => void drop(c.id, c.name ?? "")}>
                Take away
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

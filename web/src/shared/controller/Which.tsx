import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useEffect, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { useShell } from "@/draft/context";
import { Problem } from "../attempt";
import { Progress, useLongWork } from "../longWork";
import { withProfile } from "./replaced";

type Choice = components["schemas"]["ControllerChoice"];

/** Every profile in this controller's place, the best first, each with what speaks against it. */
export function Which({ id, onClose }: { id: string; onClose: () => void }) {
  const { draft, say } = useShell();
  const { ticket, problem, work, stop } = useLongWork();
  const [found, setFound] = useState<Choice[] | null>(null);
  const build = draft.draft;
  useEffect(() => {
    void work(async (how) => {
      if (build) setFound(await take(api.POST("/api/controllers/rank", { body: { build, controller: id }, ...how })));
    });
    // Asked once, when it opens: what is in hand then is what is told.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const choose = (choice: Choice) =>
    void work(async () => {
      const profiles = await take(api.GET("/api/controllers"));
      const profile = profiles.find((p) => p.id === choice.id);
      if (!profile) return;
      draft.edit(`Controller: ${choice.name}`, (old) => withProfile(old, id, profile));
      say(`Taken: ${choice.name}. Undo takes it back.`);
      onClose();
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="which-title">
      <div className="dialog">
        <h2 id="which-title">Which controller?</h2>
        <p className="field-help">
          Each profile is put in this one’s place and the whole build is worked out with it. What stops with every one
          of them is no matter of the controller and is left out here. Pins that were fixed by hand are found anew.
        </p>
        <Progress ticket={ticket} words="Working them out …" onStop={stop} />
        <Problem>{problem}</Problem>
        <ol className="plain-list which">
          {found?.map((c) => (
            <li key={c.id}>
              <div>
                <b>{c.name}</b>
                <p className="field-help">
                  {[
                    c.language,
                    `${c.logic} logic`,
                    c.price,
                    c.height && `${c.height} high`,
                    c.draws && `draws ${c.draws}`,
                    c.effort,
                    c.grid && `pins ${c.grid}`,
                    c.pins_left === 1 ? "1 pin left" : `${c.pins_left} pins left`,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </p>
                {c.meets && <p className="which-meets">Meets all that this build asks of it.</p>}
                <Objections kind="stop" list={c.stops} />
                <Objections kind="warn" list={c.warnings} />
                {c.added.length > 0 && (
                  <p className="field-help">
                    Would have to be added: {c.added.join("; ")}, estimated.{c.total && ` ${c.total} with it.`}
                  </p>
                )}
                {c.no_program.map((words) => (
                  <p key={words} className="field-help">
                    No program: {words}
                  </p>
                ))}
              </div>
              <Button size="small" variant="outlined" aria-label={`Take this one: ${c.name}`} onClick={() => choose(c)}>
                Take this one
              </Button>
            </li>
          ))}
        </ol>
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

function Objections({ kind, list }: { kind: "stop" | "warn"; list: Choice["stops"] }) {
  return list.map((o) => (
    <p key={o.drive + o.title} className={`which-${kind}`}>
      <b>
        {o.title}
        {o.drive && `, ${o.drive}`}:
      </b>{" "}
      {o.todo}
    </p>
  ));
}

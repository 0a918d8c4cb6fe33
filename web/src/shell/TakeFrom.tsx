import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Schemas } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { OneOf } from "@/shared/OneOf";
import { useShell } from "@/draft/context";

type What = Schemas["SourceView"]["what"];
const WHAT: Record<What, string> = { motor: "Motor", driver: "Driver", controller: "Controller", panel: "Panel" };
const MANY = 8;
const CHOICES = (Object.keys(WHAT) as What[]).map((key) => ({ key, label: WHAT[key] }));

/** A motor, driver, controller or panel of another build in the place of this drive's own, as a try. */
export function TakeFrom({ onClose }: { onClose: () => void }) {
  const { draft, drive, showTries } = useShell();
  const [what, setWhat] = useState<What>("motor");
  const { problem, attempt } = useAttempt();
  const found = useQuery({ queryKey: ["sources"], gcTime: 0, queryFn: () => take(api.GET("/api/sources")) });
  const [sought, setSought] = useState("");
  const all = found.data?.filter((s) => s.what === what && !(s.build === draft.id && s.drive === drive)) ?? [];
  const able = all.filter((s) => `${s.name} ${s.build_name}`.toLowerCase().includes(sought.trim().toLowerCase()));
  const tryIt = (s: Schemas["SourceView"]) =>
    attempt(async () => {
      const build = draft.draft;
      if (!build) return;
      const body = { build, drive, from_build: s.build, from_drive: s.drive, what };
      const made = await take(api.POST("/api/sources/taken", { body }));
      draft.tryOut(`${WHAT[what]} of ${s.build_name}`, () => made);
      onClose();
      showTries();
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="take-title">
      <div className="dialog">
        <h2 id="take-title">Take from another build</h2>
        <p className="field-help">
          It takes the place of this drive’s own, as a try: what it does is shown side by side before anything is kept.
          What was measured comes with the meter that read it.
        </p>
        <OneOf label="What is taken" value={what} choices={CHOICES} onChoose={setWhat} />
        <Problem>{problem || found.error?.message}</Problem>
        {all.length > MANY && (
          <TextField size="small" label="Search by name" value={sought} onChange={(e) => setSought(e.target.value)} />
        )}
        {found.data && able.length === 0 && (
          <p role="status">{all.length === 0 ? "No other build has one." : "None is called so."}</p>
        )}
        <ul className="plain-list">
          {able.map((s) => (
            <li key={s.build + s.drive}>
              <span>
                <b>{s.name || WHAT[what]}</b> <small>{s.build_name}</small>
              </span>
              <Button
                size="small"
                variant="outlined"
                aria-label={`Try it: ${s.name || WHAT[what]} of ${s.build_name}`}
                onClick={() => void tryIt(s)}
              >
                Try it
              </Button>
            </li>
          ))}
        </ul>
        <div className="dialog-foot">
          <Button autoFocus onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

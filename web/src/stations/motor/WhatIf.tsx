import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import { api, take, type PictureOf } from "@/api/client";
import { getAt } from "@/draft/paths";
import { useShell } from "@/draft/context";
import { AS_IT_IS } from "@/draft/useDraft";
import { applyChanges } from "@/draft/changes";

type Motor = PictureOf<"motor">;

/** The shelf of motors, a line each. */
function useMotors() {
  const asked = useQuery({ queryKey: ["motors", "choices"], queryFn: () => take(api.GET("/api/motors/choices")) });
  return asked.data ?? [];
}

const NUMBERS = [
  ["supply_v", "Supply", "V"],
  ["gear_ratio", "Gear ratio", "ratio"],
  ["motor_torque", "Torque at the motor", "mN·m"],
] as const;
/** A torque is reached by the gear: of the two the one that was given last counts. */
const INSTEAD: Partial<Record<string, "gear_ratio" | "motor_torque">> = {
  gear_ratio: "motor_torque",
  motor_torque: "gear_ratio",
};

/** Other numbers, drawn beside the motor's own curves; nothing changes until they are taken. */
export function WhatIf({ other, refused }: { other: Motor["other"]; refused: Motor["refused"] }) {
  const motors = useMotors();
  const { draft, drive, say } = useShell();
  const id = useId();
  const { whatIf, setWhatIf } = draft;
  const asked = Object.values(whatIf).some(Boolean);
  const set = (part: Partial<typeof whatIf>) => setWhatIf({ ...whatIf, ...part });
  const accept = async () => {
    if (!draft.draft) return;
    try {
      const body = { build: draft.draft, station: "motor" as const, drive, build_id: draft.id, what_if: whatIf };
      const changes = await take(api.POST("/api/what-if", { body }));
      draft.edit("What if, taken", (build) => applyChanges(build, changes));
      setWhatIf({ ...AS_IT_IS, motor: whatIf.motor });
    } catch (error) {
      say((error as Error).message);
    }
  };
  return (
    <section className="what-if" aria-label="What if">
      <h3>What if</h3>
      <span className="what-if-fields">
        {NUMBERS.map(([name, label, placeholder]) => (
          <label key={name} htmlFor={`${id}-${name}`}>
            {label}
            <input
              id={`${id}-${name}`}
              aria-label={`What if: ${label.toLowerCase()}`}
              aria-invalid={refused[name] !== undefined}
              aria-describedby={refused[name] === undefined ? undefined : `${id}-${name}-told`}
              value={whatIf[name]}
              placeholder={placeholder}
              onChange={(e) => set({ [name]: e.target.value, ...(INSTEAD[name] ? { [INSTEAD[name]]: "" } : {}) })}
            />
          </label>
        ))}
        <label htmlFor={`${id}-m`}>
          Motor
          <select
            id={`${id}-m`}
            aria-label="What if: motor"
            value={whatIf.motor}
            onChange={(e) => set({ motor: e.target.value })}
          >
            <option value="">this one</option>
            {motors.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </select>
        </label>
      </span>
      {NUMBERS.map(
        ([name]) =>
          refused[name] !== undefined && (
            <p key={name} id={`${id}-${name}-told`} className="field-error" role="alert">
              {refused[name]}
            </p>
          ),
      )}
      {other && (
        <p role="status">
          <b>{other.text}:</b> {other.words.join("; ")}.
        </p>
      )}
      {asked && (
        <span className="button-row">
          <Button size="small" onClick={() => setWhatIf(AS_IT_IS)}>
            Put it away
          </Button>
          {(whatIf.supply_v || whatIf.gear_ratio || whatIf.motor_torque) && !Object.keys(refused).length && (
            <Button size="small" variant="outlined" onClick={() => void accept()}>
              Take these numbers
            </Button>
          )}
        </span>
      )}
    </section>
  );
}

/** The shelf of motors: choose one, keep this one, take one's own away. */
export function MotorShelf({ onClose }: { onClose: () => void }) {
  const motors = useMotors();
  const { draft, drive, say } = useShell();
  const queries = useQueryClient();
  const full = useQuery({ queryKey: ["motors"], queryFn: () => take(api.GET("/api/motors")) });
  const path = `drives.${drive}.motor`;
  const choose = (id: string) => {
    const found = full.data?.find((m) => m.id === id);
    if (!found) return;
    draft.editAt(`Motor: ${found.name}`, path, () => found.motor);
    onClose();
  };
  const attempt = async (act: () => Promise<unknown>, words: string) => {
    try {
      await act();
      await queries.invalidateQueries({ queryKey: ["motors"] });
      void queries.invalidateQueries({ queryKey: ["offers"] });
      draft.refresh();
      say(words);
    } catch (error) {
      say((error as Error).message);
    }
  };
  const own = getAt(draft.draft, path) as { name?: string } | undefined;
  const keep = () =>
    attempt(
      () =>
        take(
          api.POST("/api/motors", {
            body: { name: own?.name?.trim() || "My motor", motor: own as never, note: "" },
          }),
        ),
      "This motor is on the shelf.",
    );
  const correct = (id: string, name: string) =>
    attempt(
      () =>
        take(
          api.PUT("/api/motors/{motor_id}", {
            params: { path: { motor_id: id } },
            body: { name, motor: own as never, note: "" },
          }),
        ),
      `${name} is corrected. Builds that hold a copy are offered what changed.`,
    );
  const drop = (id: string) =>
    attempt(() => take(api.DELETE("/api/motors/{motor_id}", { params: { path: { motor_id: id } } })), "Taken away.");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="shelf-title">
      <div className="dialog">
        <h2 id="shelf-title">Motors on the shelf</h2>
        <p className="field-help">
          Samples are made up, typical of their class. Choosing one copies its figures into this drive; undo takes it
          back.
        </p>
        <ul className="plain-list motor-shelf">
          {motors.map((m) => (
            <li key={m.id}>
              <span>
                <b>{m.name}</b> <small>{m.kind + (m.sample ? ", sample" : "")}</small>
                <br />
                <small>{m.text}</small>
                {m.note && (
                  <>
                    <br />
                    <small>{m.note}</small>
                  </>
                )}
              </span>
              <span>
                {!m.sample && (
                  <Button
                    size="small"
                    onClick={() => void correct(m.id, m.name)}
                    aria-label={`Correct ${m.name} by this drive’s motor`}
                  >
                    Correct by this one
                  </Button>
                )}
                {!m.sample && (
                  <Button size="small" onClick={() => void drop(m.id)} aria-label={`Take away ${m.name}`}>
                    Take away
                  </Button>
                )}
                <Button size="small" variant="outlined" onClick={() => choose(m.id)} aria-label={`Choose ${m.name}`}>
                  Choose
                </Button>
              </span>
            </li>
          ))}
        </ul>
        <div className="dialog-foot">
          <Button variant="outlined" onClick={() => void keep()}>
            Keep this drive’s motor on the shelf
          </Button>
          <Button autoFocus onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

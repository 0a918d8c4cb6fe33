import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Build } from "@/api/client";
import type { components } from "@/../generated/schema";
import { useActions } from "@/draft/context";
import type { DraftHandle } from "@/draft/useDraft";
import { Stamp } from "@/shared/Stamp";
import { Comparison } from "./Comparison";
import "./try.css";

type Tries = components["schemas"]["TriesView"];

/** While a build is only tried: what that means, what it would do, and the ways out. */
export function TryBar({
  draft,
  open,
  onOpen,
}: {
  draft: DraftHandle;
  open: boolean;
  onOpen: (open: boolean) => void;
}) {
  const { say } = useActions();
  const { trial, tried } = draft;
  if (!trial || !draft.draft) return null;
  const keep = async (which: "this" | "aside") => {
    onOpen(false);
    const after = which === "this" ? draft.draft : trial.aside;
    draft.keepTry(which);
    if (!after) return;
    try {
      const asked = { params: { path: { build_id: draft.id } }, body: { before: trial.base, after, log: true } };
      const { rows } = await take(api.POST("/api/builds/{build_id}/retuning", asked));
      const count = rows.length === 1 ? "One setting is" : `${rows.length} settings are`;
      if (rows.length > 0) say(`Kept. ${count} to be set again: the list stands in the log.`);
    } catch (error) {
      say((error as Error).message);
    }
  };
  const changes = tried === 1 ? "1 change" : `${tried} changes`;
  return (
    <section className="try-bar" aria-label="Try">
      <p role="status">
        <b>Trying{trial.aside ? ", another is set aside" : ""}.</b>{" "}
        {tried === 0
          ? "Change anything at any station: nothing is saved until you keep it."
          : `${changes}, not saved: kept or dropped as one.`}
      </p>
      <span className="button-row">
        <Button size="small" variant="outlined" onClick={() => onOpen(true)}>
          Side by side
        </Button>
        <Button size="small" onClick={draft.exchangeTry}>
          {trial.aside ? "Exchange the two" : "Set aside, try another"}
        </Button>
        <Button size="small" onClick={() => void keep("this")}>
          Keep
        </Button>
        <Button size="small" onClick={draft.dropTry}>
          Drop
        </Button>
      </span>
      {open && (
        <SideBySide
          id={draft.id}
          states={[trial.base, draft.draft, ...(trial.aside ? [trial.aside] : [])]}
          onClose={() => onOpen(false)}
          onKeep={(which) => void keep(which)}
          onDrop={() => {
            onOpen(false);
            draft.dropTry();
          }}
        />
      )}
    </section>
  );
}

type Beside = {
  id: string;
  states: Build[];
  onClose: () => void;
  onKeep: (which: "this" | "aside") => void;
  onDrop: () => void;
};

function SideBySide({ id, states, onClose, onKeep, onDrop }: Beside) {
  const asked = useQuery({
    queryKey: ["tries", id, states],
    gcTime: 0,
    queryFn: () => take(api.POST("/api/tries", { body: { build_id: id, states } })),
  });
  const two = states.length > 2;
  const names = ["As it is", "This try", ...(two ? ["Set aside"] : [])];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg" aria-labelledby="tries-title">
      <div className="dialog tries">
        <h2 id="tries-title">Side by side</h2>
        {asked.error && <p role="alert">{asked.error.message}</p>}
        {asked.isPending && <p role="status">Working it out …</p>}
        {asked.data && <Told view={asked.data} names={names} />}
        <div className="dialog-foot">
          <Button variant="contained" onClick={() => onKeep("this")}>
            Keep this try
          </Button>
          {two && <Button onClick={() => onKeep("aside")}>Keep the one set aside</Button>}
          <Button onClick={onDrop}>{two ? "Drop both" : "Drop it"}</Button>
          <Button autoFocus onClick={onClose}>
            Go on trying
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

function stopping(count: number): string {
  if (count === 0) return "nothing stops it";
  return count === 1 ? "1 finding stops it" : `${count} findings stop it`;
}

function Told({ view, names }: { view: Tries; names: string[] }) {
  const head = (what: string) => (
    <thead>
      <tr>
        <th scope="col">{what}</th>
        {names.map((n) => (
          <th scope="col" key={n}>
            {n}
          </th>
        ))}
      </tr>
    </thead>
  );
  return (
    <>
      <p>{names.map((n, i) => `${n}: ${stopping(view.stops[i] ?? 0)}`).join("; ")}.</p>
      <div className="scroll">
        <table className="grid-table tries-table">
          {head("Station")}
          <tbody>
            {view.stations.map((s) => (
              <tr key={s.title + s.drive}>
                <th scope="row">
                  {s.title}
                  {s.drive && <small>, {s.drive}</small>}
                </th>
                {s.stamps.map((x, i) => (
                  <td key={names[i]}>{x.state ? <Stamp state={x.state} text={x.text} /> : "none"}</td>
                ))}
              </tr>
            ))}
            <tr>
              <td colSpan={names.length + 1}>
                <small>
                  {view.stations.length === 0
                    ? "Every station stands as it did."
                    : `${view.alike} others stand as they did.`}
                </small>
              </td>
            </tr>
          </tbody>
          {head("Figure")}
          <tbody>
            {view.figures.map((f) => (
              <tr key={f.title + f.drive}>
                <th scope="row">
                  {f.title}
                  {f.drive && <small>, {f.drive}</small>}
                </th>
                {f.texts.map((t, i) => (
                  <td key={names[i]} className={f.moved[i] ? "moved" : undefined}>
                    {t}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
          {head("Tightest")}
          <tbody>
            {[0, 1, 2, 3, 4].map((row) => (
              <tr key={row}>
                <th scope="row">{row + 1}</th>
                {view.tightest.map((spots, i) => (
                  <td key={names[i]}>{spots[row] ?? ""}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {view.changes.map((c, i) => (
        <Comparison key={names[i + 1]} title={`${names[i + 1]}: what differs`} view={c} heads={["As it is", "Tried"]} />
      ))}
    </>
  );
}

import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type PictureOf } from "@/api/client";
import { Bar } from "@/shared/Bar";
import { useActions, useShell } from "@/draft/context";
import type { PictureProps } from "@/shared/picture";
import { OneOf } from "@/shared/OneOf";
import { CompareTable } from "./CompareTable";
import { PartShelf } from "./PartShelf";
import "./driver.css";

type Candidate = PictureOf<"driver">["candidates"][number];

type Part = NonNullable<Candidate["part"]>;
type SalvageFound = NonNullable<PictureOf<"driver">["salvage"]>;

/** What a board without a sheet may be, the trial that tells most, and the part once only one is left. */
function Salvage({ found, onTake }: { found: SalvageFound; onTake: (part: Part) => void }) {
  const part = found.part;
  return (
    <section className="salvage" aria-label="The salvaged board">
      <h3>What the board may be</h3>
      {found.problem && <p className="field-error">{found.problem}</p>}
      <ul>
        {found.says.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {found.next && <p className="salvage-next">{found.next}</p>}
      {part && (
        <Button variant="outlined" onClick={() => onTake(part)}>
          Take it as the driver
        </Button>
      )}
    </section>
  );
}

/** All candidates as one comparison of margins, best first; refusals with their reason at the end, never hidden. */
export default function DriverPicture({ picture }: PictureProps) {
  const { candidates, verdicts, order, left_out, salvage } = picture as PictureOf<"driver">;
  const [open, setOpen] = useState("");
  const [shelf, setShelf] = useState(false);
  const [shown, setShown] = useState<"bars" | "table">("bars");
  const { draft, drive, say, showTries } = useShell();
  const queries = useQueryClient();
  /** Waits for the shelf, which may still be on its way when the first button is pressed. */
  const partOf = async (candidate: Candidate): Promise<Part | undefined> => {
    if (candidate.part) return candidate.part;
    const shelved = await queries.fetchQuery({
      queryKey: ["parts"],
      queryFn: () => take(api.GET("/api/parts")),
    });
    return shelved.find((p) => p.id === candidate.id);
  };
  const told = (error: unknown) => say((error as Error).message);
  const choose = (candidate: Candidate) => void partOf(candidate).then((part) => put(part, candidate.name), told);
  const put = (part: Part | undefined, name: string) => {
    const own = draft.draft?.drives?.find((d) => d.id === drive);
    const unit = own && "unit" in own ? own.unit : "";
    if (!part || !unit) return say("This drive has no driver unit yet: give it one on the Build page.");
    draft.editAt(`Driver: ${name}`, `units.${unit}`, (old) => ({
      ...(old as object),
      part,
      made_of: "part",
    }));
    return true;
  };
  /** The whole build with another part, beside what it is: kept or dropped as a try. */
  const beside = (candidate: Candidate) => {
    void partOf(candidate).then((part) => {
      draft.beginTry();
      if (put(part, candidate.name)) showTries();
      else draft.dropTry();
    }, told);
  };
  const chosen = candidates.find((c) => c.chosen);
  const good = candidates.filter((c) => c.verdict === "holds");
  const better = good[0]?.chosen || good[0]?.id === "stage" ? undefined : good[0];
  const waiting = candidates.filter((c) => c.verdict === "open");
  const refused = candidates.filter((c) => c.verdict === "refused");
  const slots = [
    ...new Set(
      candidates
        .flatMap((c) => c.checks)
        .filter((k) => k.use !== null)
        .map((k) => k.code),
    ),
  ];
  const row = (c: Candidate) => (
    <Row
      key={c.id}
      slots={slots}
      c={c}
      open={open === c.id}
      onOpen={() => setOpen(open === c.id ? "" : c.id)}
      onChoose={() => choose(c)}
      onBeside={chosen && !c.chosen && c.id !== "stage" ? () => beside(c) : undefined}
    />
  );
  return (
    <div className="candidates">
      {salvage && <Salvage found={salvage} onTake={(part) => put(part, part.name ?? "")} />}
      {verdicts.length > 0 && (
        <ul className="verdicts" aria-label="What each school says of the chosen part">
          {verdicts.map((v) => (
            <Verdict key={v.school} v={v} />
          ))}
        </ul>
      )}
      <p className="field-help">
        {good.length} of {candidates.length} parts hold
        {waiting.length > 0 && `; of ${waiting.length} it cannot be told yet`}. A bar is a check, its line the limit;
        open a part to see each by name.
        {left_out > 0 && ` ${left_out} more of the shelf come after these and are left out.`} The shelf's parts are
        samples: made up, typical of their class.{" "}
        <Button size="small" onClick={() => setShelf(true)}>
          Parts of your own …
        </Button>
      </p>
      {better && chosen && (
        <p>
          {better.name}{" "}
          {chosen.verdict === "holds" ? "stands before the chosen one" : "holds, and the chosen one does not"}.{" "}
          <Button size="small" variant="outlined" onClick={() => beside(better)}>
            Both side by side
          </Button>
        </p>
      )}
      {shelf && <PartShelf onClose={() => setShelf(false)} />}
      <OneOf
        label="How the parts are shown"
        value={shown}
        onChoose={setShown}
        choices={[
          { key: "bars", label: "Bars" },
          { key: "table", label: "Table" },
        ]}
      />
      {shown === "table" && <CompareTable candidates={candidates} order={order} onChoose={choose} />}
      {shown === "bars" && good.length > 0 && (
        <ol className="candidate-list" aria-label="Parts that hold">
          {good.map(row)}
        </ol>
      )}
      {shown === "bars" && waiting.length > 0 && (
        <>
          <h3>Not known yet</h3>
          <ol className="candidate-list" aria-label="Parts of which something is not known yet">
            {waiting.map(row)}
          </ol>
        </>
      )}
      {shown === "bars" && refused.length > 0 && (
        <>
          <h3>Refused</h3>
          <ol className="candidate-list" aria-label="Parts that are refused">
            {refused.map(row)}
          </ol>
        </>
      )}
    </div>
  );
}

function Verdict({ v }: { v: PictureOf<"driver">["verdicts"][number] }) {
  return (
    <li className={v.followed ? "verdict-followed" : ""}>
      <span className={`check-${v.state}`}>
        <span className="check-mark">{v.state === "stop" ? "✕" : v.state === "unknown" ? "?" : "✓"}</span>
      </span>{" "}
      <b>{v.label.split(":")[0]}</b>
      {v.followed ? " (followed)" : ""}
      <br />
      <small>{v.text}</small>
    </li>
  );
}

/** What an opened part says besides its checks: asked for when it is opened, and again as the draft changes. */
function Detail({ part }: { part: string }) {
  const { draft, drive } = useShell();
  const asked = useQuery({
    queryKey: ["part", part, drive, draft.draft],
    queryFn: () => take(api.POST("/api/stage/part", { body: { build: draft.draft as never, drive, part } })),
    placeholderData: (before) => before,
  });
  if (asked.error) return <p className="field-error">{asked.error.message}</p>;
  const d = asked.data;
  if (!d) return <p className="field-help">…</p>;
  return (
    <>
      {d.changes.length > 0 && (
        <ul className="candidate-changes" aria-label="What would have to change">
          {d.changes.map((change) => (
            <li key={change}>{change}.</li>
          ))}
        </ul>
      )}
      <ul className="verdicts" aria-label="What each school says of this part">
        {d.verdicts.map((v) => (
          <Verdict key={v.school} v={v} />
        ))}
      </ul>
      <p>
        <b>{d.total}</b> with what it needs around it{d.extras.length === 0 && ": nothing more"}.
      </p>
      {d.extras.length > 0 && (
        <ul className="candidate-changes" aria-label="What it needs around it">
          {d.extras.map((x) => (
            <li key={x}>{x}</li>
          ))}
        </ul>
      )}
    </>
  );
}

type RowProps = {
  c: Candidate;
  slots: string[];
  open: boolean;
  onOpen: () => void;
  onChoose: () => void;
  onBeside: (() => void) | undefined;
};

function Row({ c, slots, open, onOpen, onChoose, onBeside }: RowProps) {
  const { openWorking } = useActions();
  const known = c.checks.filter((k) => k.use !== null);
  return (
    <li
      className={`candidate${c.chosen ? " candidate-chosen" : ""}${c.verdict === "refused" ? " candidate-refused" : ""}`}
      data-path={`part:${c.id}`}
    >
      <div className="candidate-head">
        <button type="button" className="candidate-name" aria-expanded={open} onClick={onOpen}>
          <b>{c.name}</b>
          <small>
            {c.part_kind}, {c.effort}, {c.price}
          </small>
        </button>
        <span className="pips" role="img" aria-label={known.map((k) => `${k.title} ${k.use_text}`).join(", ")}>
          {slots.map((code) => {
            const k = known.find((x) => x.code === code);
            const use = k?.use ?? 0;
            const height = Math.min(Math.max(use < 0 ? 1.25 : use, 0.03), 1.25) * 80;
            return (
              <i key={code} className={`pip pip-${k?.state}`} title={k && `${k.title}: ${k.use_text}, ${k.detail}`}>
                {k && <u style={{ height: `${height}%` }} />}
              </i>
            );
          })}
        </span>
        {c.chosen ? (
          <span className="chosen">✓ chosen</span>
        ) : c.id === "stage" ? (
          <span className="chosen">your own</span>
        ) : (
          <Button
            size="small"
            variant={c.verdict === "refused" ? "text" : "outlined"}
            onClick={onChoose}
            aria-label={`Choose ${c.name}`}
          >
            Choose
          </Button>
        )}
      </div>
      {c.verdict === "refused" && (
        <p className="candidate-why">
          {c.reasons[0]}
          {c.reasons.length > 1 && ` And ${c.reasons.length - 1} more.`}
        </p>
      )}
      {open && (
        <div className="candidate-more">
          <p>
            Drops {c.drop} at work; gives {c.top_speed} with the supply flat
            {c.torque && ` and ${c.torque} at standstill`}; junction {c.junction}.
            {c.condition && ` Its continuous current holds for: ${c.condition}.`} {c.note}
          </p>
          {onBeside && (
            <Button size="small" variant="outlined" onClick={onBeside}>
              The whole build with it, side by side
            </Button>
          )}
          <Detail part={c.id} />
          <ul className="checks">
            {c.checks.map((k) => (
              <li key={k.code} className={`check check-${k.state}`}>
                <span className="check-mark">
                  {k.state === "stop"
                    ? "✕ stops"
                    : k.state === "unknown"
                      ? "open"
                      : k.state === "warn"
                        ? "! look"
                        : k.state === "tight"
                          ? "tight"
                          : "✓"}
                </span>
                {k.figure && k.use !== null ? (
                  <button type="button" className="link" onClick={() => openWorking(k.figure)}>
                    {k.title}
                  </button>
                ) : (
                  <span>{k.title}</span>
                )}
                <span className="check-detail">{k.detail || (k.state === "stop" ? k.todo : "")}</span>
                {k.use !== null ? <Bar use={k.use} state={k.state} /> : <span />}
                <span className="num">{k.use_text}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </li>
  );
}

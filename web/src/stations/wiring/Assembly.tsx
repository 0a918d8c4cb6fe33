import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { api, take } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import type { Wiring } from "./wiring";
import { LogState } from "./LogState";
import { Tick } from "./Tick";

type Step = Wiring["steps"][number];

/** The colours of a resistor as they lie, its tolerance apart. */
function Bands({ bands }: { bands: string[] }) {
  return (
    <svg viewBox="0 0 64 18" width="64" height="18" role="img" aria-label={bands.join(", ")} className="bands">
      <line x1="0" x2="64" y1="9" y2="9" className="lead" />
      <rect x="8" y="3" width="48" height="12" className="body" />
      {bands.map((b, i) => (
        <rect
          key={b + i}
          x={13 + i * 8 + (i === bands.length - 1 ? 7 : 0)}
          y="3"
          width="4"
          height="12"
          className={`band-${b}`}
        />
      ))}
    </svg>
  );
}

function Item({ x }: { x: Step["groups"][number]["items"][number] }) {
  return (
    <li>
      {x.what}
      {x.mark && <span className="wiring-note">: {x.mark}</span>}
      {!!x.bands.length && (
        <span className="wiring-note">
          {" "}
          <Bands bands={x.bands} /> {x.bands.join(" ")}
          {!!x.fine.length && (
            <>
              , with 1 % <Bands bands={x.fine} /> {x.fine.join(" ")}
            </>
          )}
          {x.back && ` (from the other end it would read ${x.back}: measure it)`}
        </span>
      )}
    </li>
  );
}

/** The steps of the work; those of the build can be ticked. */
function Steps({ steps, ticked }: { steps: Step[]; ticked: boolean }) {
  return (
    <ol className="steps">
      {steps.map((s) => (
        <li key={s.id}>
          <h4>
            {ticked && <Tick id={s.id} name={`${s.title}: done`} />}
            {s.title}
          </h4>
          <p>{s.why}</p>
          {s.groups.map((g) => (
            <div key={g.on}>
              {g.on && <b>{g.on}</b>}
              <ul className="marks">
                {g.items.map((x) => (
                  <Item key={x.what} x={x} />
                ))}
              </ul>
            </div>
          ))}
          {!!s.look.length && <p className="wiring-note">Before the next: {s.look.join(" ")}</p>}
        </li>
      ))}
    </ol>
  );
}

/** The order of the work, what marks each part, and what to look at before the next. */
export function Assembly({ p }: { p: Wiring }) {
  return (
    <section aria-label="Assembly">
      <LogState state={p.state} />
      <Steps steps={p.steps} ticked />
      <h4>Tools and consumables</h4>
      <ul>
        {p.tools.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
      <Kit />
    </section>
  );
}

/** The same for a kit: its list of parts is enough. */
function Kit() {
  const [text, setText] = useState("");
  const [steps, setSteps] = useState<Step[]>([]);
  const { problem, attempt } = useAttempt();
  const make = () =>
    attempt(async () => {
      setSteps(await take(api.POST("/api/wiring/kit", { body: { text } })));
    });
  return (
    <section aria-label="A kit" className="no-print">
      <h4>A kit beside it</h4>
      <TextField
        label="Its list of parts, a line for each value"
        placeholder={"R1, R2: 10k\nC1: 100n\nIC1: driver"}
        multiline
        minRows={3}
        fullWidth
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Button size="small" onClick={() => void make()}>
        Put it in order
      </Button>
      <Problem>{problem}</Problem>
      {steps.length > 0 && <Steps steps={steps} ticked={false} />}
    </section>
  );
}

import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take, type PictureOf } from "@/api/client";
import type { components } from "@/../generated/schema";
import { useShell } from "@/draft/context";
import { Plot } from "@/shared/Plot";
import { Problem, useAttempt } from "@/shared/attempt";

type View = PictureOf<"signals">["sequences"][number];
type Course = components["schemas"]["SequenceCourse"];
const TONES = [1, 2, 3, 4] as const;

/** The sequences of this controller: drawn step by step, played, and what their check says. */
export function Sequences({ sequences }: { sequences: View[] }) {
  return sequences.map((view) => <One key={view.id} view={view} />);
}

function One({ view }: { view: View }) {
  return (
    <section className="sequence" aria-label={view.name}>
      <h3>{view.name}</h3>
      {view.refusal ? (
        <p className="problem" role="note">
          {view.refusal}
        </p>
      ) : (
        <>
          <Steps view={view} />
          <Play view={view} />
          <Checked view={view} />
        </>
      )}
    </section>
  );
}

/** Who does what, step after step: a row for each drive, a column for each step. */
function Steps({ view }: { view: View }) {
  return (
    <div className="scroll">
      <table className="grid-table sequence-steps">
        <caption>Step by step</caption>
        <thead>
          <tr>
            <th scope="col">Drive</th>
            {view.steps.map((_, i) => (
              <th key={i} scope="col" className="num">
                {i + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.actors.map((who) => (
            <tr key={who}>
              <th scope="row">{who}</th>
              {view.steps.map((step, i) =>
                step.who === who ? (
                  <td key={i} className="sequence-does">
                    {step.does} <span>{step.until}</span>
                  </td>
                ) : (
                  <td key={i} />
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {view.interlocks.length > 0 && (
        <ul className="plain-list field-help">
          {view.interlocks.map((words) => (
            <li key={words}>{words}; else the program stops it at once.</li>
          ))}
        </ul>
      )}
    </div>
  );
}

function Play({ view }: { view: View }) {
  const { draft } = useShell();
  const { problem, attempt } = useAttempt();
  const [course, setCourse] = useState<Course | null>(null);
  const play = () =>
    attempt(async () => {
      if (!draft.draft) return;
      setCourse(await take(api.POST("/api/signals/play", { body: { build: draft.draft, sequence: view.id } })));
    });
  return (
    <>
      <p className="button-row">
        <Button size="small" variant="outlined" onClick={() => void play()}>
          Play it
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {course && (
        <>
          <p role="status" className="try-now">
            {course.ended
              ? `It comes to its end after ${(course.time_s.at(-1) ?? 0).toFixed(1)} s.`
              : "It does not come to its end: see what its check says."}
          </p>
          <Plot
            x={course.time_s}
            xLabel="time, s"
            height={200}
            axes={[{ id: "d", label: "duty or place, %", side: "left", max: 100 }]}
            lines={course.tracks.slice(0, 4).map((track, i) => ({
              id: track.name,
              label: track.name,
              data: track.values,
              axis: "d",
              tone: TONES[i] ?? 4,
              step: track.kind === "servo",
              labelAt: 0.12 + 0.26 * i,
              labelDy: track.kind === "servo" ? -8 : 14,
            }))}
            words={`Duty of each motor and place of each servo while ${view.name} runs.`}
            readOff="Read off at a time"
            units={{ d: "%" }}
          />
          {course.tracks.length > 4 && (
            <p className="field-help">
              Not drawn:{" "}
              {course.tracks
                .slice(4)
                .map((t) => t.name)
                .join(", ")}
              . They take part as the steps say.
            </p>
          )}
          <ol className="plain-list field-help">
            {course.events.map((e) => (
              <li key={`${e.at_s} ${e.says}`} className="num">
                {e.at_s.toFixed(2)} s {e.says}
              </li>
            ))}
          </ol>
        </>
      )}
    </>
  );
}

function Checked({ view }: { view: View }) {
  return (
    <>
      <h3>Checked in every course</h3>
      <p className="field-help">
        <span className="num">{view.states}</span> states; waits and coming to rest may take any time. Left out:{" "}
        {view.left_out.join("; ")}.
      </p>
      <ul className="plain-list never">
        {view.verdicts.map((v) => (
          <li key={v.says} className={v.holds ? "" : "verdict-broken"}>
            <span aria-hidden="true">{v.holds ? "✓" : "✗"}</span> {v.says}
            {v.holds ? "." : v.steps.length > 0 ? ": it can." : "."}
            {!v.holds && v.steps.length > 0 && (
              <ol>
                {v.steps.map((s, i) => (
                  <li key={i}>{s.says}</li>
                ))}
              </ol>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

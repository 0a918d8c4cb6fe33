import { useState } from "react";
import type { PictureOf } from "@/api/client";
import { useShell } from "@/draft/context";
import type { PictureProps } from "@/shared/picture";
import { Fields } from "@/shared/Fields";
import { Tabs } from "@/shared/Tabs";
import { useTicks } from "@/shared/ticks";
import { FaultFinder, type Answers, type Texts } from "./FaultFinder";
import { HandSums } from "./HandSums";
import { Instruments } from "./Instruments";
import { Practice } from "./Practice";
import { StepForm } from "./StepForm";
import { markOf, MARKS, skipOf, type Step } from "./step";
import "./bench.css";

/** The bench: its test sheet, what could be wrong, and a hidden fault to practise on. */
export default function BenchPage({ picture, sheet }: PictureProps) {
  const { drive } = useShell();
  const [at, setAt] = useState("sheet");
  const [readings, setReadings] = useState<Texts>({});
  const [answers, setAnswers] = useState<Answers>({});
  const [of, setOf] = useState(drive);
  if (of !== drive) {
    setOf(drive);
    setReadings({});
    setAnswers({});
  }
  const wrong = () => (
    <FaultFinder readings={readings} onReadings={setReadings} answers={answers} onAnswers={setAnswers} />
  );
  const pages = [
    {
      key: "sheet",
      label: "Test sheet",
      content: () => <TestSheet picture={picture} onWrong={() => setAt("wrong")} />,
    },
    { key: "wrong", label: "What is wrong?", content: wrong },
    { key: "practice", label: "Practice", content: () => <PracticePage key={drive} /> },
    {
      key: "own",
      label: "Steps of your own",
      content: () => (
        <div className="bench-own">
          <p>
            What you want tested beside what follows from the design. A step stands last in its stage on the test sheet,
            and its readings go into the log like any other.
          </p>
          {sheet.sections.map((s, i) => (
            <Fields key={`${s.path}:${i}`} section={s} />
          ))}
        </div>
      ),
    },
  ];
  return <Tabs pages={pages} at={at} onGo={setAt} />;
}

/** A hidden fault, and below it the sums that one does by hand. */
function PracticePage() {
  return (
    <>
      <Practice />
      <HandSums />
    </>
  );
}

/** The test sheet, one step at a time, with a big field for the reading. */
function TestSheet({ picture, onWrong }: Pick<PictureProps, "picture"> & { onWrong: () => void }) {
  const { steps, passed, harness, clips, again, again_minutes } = picture as PictureOf<"bench">;
  const { drive } = useShell();
  const ticks = useTicks();
  const shown = (s: Step) => (markOf(s) === "open" && ticks.has(skipOf(drive, s.id)) ? "skipped" : markOf(s));
  const firstOpen = steps.findIndex((s) => markOf(s) !== "pass");
  // By its id: a step keeps its form while others come, go or change their places.
  const [open, setOpen] = useState(steps[Math.max(firstOpen, 0)]?.id);
  const found = steps.findIndex((s) => s.id === open);
  const at = found >= 0 ? found : Math.max(firstOpen, 0);
  const step = steps[at];
  return (
    <div className="bench">
      <p className="bench-count">
        {passed} of {steps.length} steps pass
      </p>
      {again.length > 0 && (
        <p className="bench-again">
          To measure again, the shortest first, about {again_minutes} min in all:{" "}
          {again.map((id) => {
            const i = steps.findIndex((s) => s.id === id);
            return (
              <button key={id} type="button" className="link" onClick={() => setOpen(id)}>
                {steps[i]?.title} ({steps[i]?.minutes} min)
              </button>
            );
          })}
        </p>
      )}
      <ol className="bench-steps" aria-label="Test sheet">
        {steps.map((s, i) => (
          <li key={s.id}>
            {s.stage !== steps[i - 1]?.stage && <p className="bench-stage">{s.stage}</p>}
            <button type="button" aria-current={i === at ? "step" : undefined} onClick={() => setOpen(s.id)}>
              <span className="key">{i + 1}</span>
              <span>{s.title}</span>
              <span className={`verdict verdict-${shown(s)}`}>{MARKS[shown(s)]}</span>
            </button>
          </li>
        ))}
      </ol>
      {step && (
        <StepForm
          key={step.id}
          step={step}
          harness={harness}
          clips={clips}
          number={at + 1}
          onNext={() => setOpen(steps[at + 1]?.id)}
          last={at === steps.length - 1}
          onWrong={onWrong}
        />
      )}
      <Instruments />
    </div>
  );
}

import Button from "@mui/material/Button";
import { useActions } from "@/draft/context";
import "./tour.css";

type Step = { station: string; title: string; says: string };

/** Six steps through a build, in the order of work. */
export const STEPS: readonly Step[] = [
  {
    station: "motor",
    title: "What have I got?",
    says: "What you know of the motor stands on the left, what follows on the right. Click a figure, or press W, and its formula opens with your numbers in it, down to what you typed.",
  },
  {
    station: "load",
    title: "What must it move?",
    says: "The mechanism tells torque, speed and how long it runs. Leave open what you do not know: what hangs on it says so, and is never counted as held.",
  },
  {
    station: "driver",
    title: "Which part, and why?",
    says: "Every part of the shelf is worked out for this motor, the refused ones with their reason. Each check names the worst case that was found: supply full, winding cold.",
  },
  {
    station: "power_stage",
    title: "Where is it tight?",
    says: "Tight spots lists the limits of the whole build, the nearest first. Click one: it leads to the field that decides it. Where a remedy can be pressed, undo takes it back.",
  },
  {
    station: "supply",
    title: "What if?",
    says: "Press Try and change anything at any station: nothing is saved. Side by side shows what it does to the whole build, and you keep or drop all of it.",
  },
  {
    station: "bench",
    title: "Is what I read right?",
    says: "The test sheet tells where to put the probes and what they must read. Type a reading: it is judged at once, and one that is wrong leads to what could be the cause. The log keeps all of it.",
  },
];

type Props = { at: number; onAt: (at: number) => void; onLeave: () => void };

/** The tour's card beside the sheet: it stands in nobody's way, and is taken up again where it was left. */
export function Tour({ at, onAt, onLeave }: Props) {
  const { goTo } = useActions();
  const step = STEPS[at];
  if (!step) return null;
  const to = (next: number) => {
    onAt(next);
    const there = STEPS[next];
    if (there) goTo(there.station);
  };
  const last = at === STEPS.length - 1;
  return (
    <section className="tour" aria-label="Tour">
      <h2>
        {step.title}{" "}
        <small>
          {at + 1} of {STEPS.length}
        </small>
      </h2>
      <p role="status">{step.says}</p>
      <span className="button-row">
        <Button size="small" disabled={at === 0} onClick={() => to(at - 1)}>
          Back
        </Button>
        {last ? (
          <Button size="small" variant="outlined" onClick={() => onAt(STEPS.length)}>
            Done
          </Button>
        ) : (
          <Button size="small" variant="outlined" onClick={() => to(at + 1)}>
            Next: {STEPS[at + 1]?.title}
          </Button>
        )}
        {!last && (
          <Button size="small" onClick={onLeave}>
            Leave it for now
          </Button>
        )}
      </span>
    </section>
  );
}

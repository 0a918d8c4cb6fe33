import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { Says, ToldFigures } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";
import { useShell } from "@/draft/context";
import { Pick, plain, Short } from "@/shared/asked";

type View = components["schemas"]["OuterView"];
type Kind = "balancing" | "following";
const KINDS = { balancing: "A base that balances", following: "Something that follows its speed" };
const ADDED = { yes: "Breakaway duty added", no: "As the law asks" };

/** An outer loop on a sensor of something else: a base that balances, a level, a place of a belt. */
export function Outer() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const [kind, setKind] = useState<Kind>("balancing");
  const [seconds, setSeconds] = useState("6");
  const [base, setBase] = useState({ height: "0.3", tilt: "2" });
  const [follows, setFollows] = useState({ unit: "1", lag: "1", late: "0", target: "10" });
  const [sensor, setSensor] = useState({ table: "", step: "0" });
  const [gains, setGains] = useState({ gain: "", change: "", adds: "" });
  const [added, setAdded] = useState<"yes" | "no">("yes");
  const [found, setFound] = useState<{ view: View; kind: Kind } | null>(null);
  const own = (text: string, what: string) => (text.trim() ? plain(text, `${what}, or nothing`) : null);
  const run = () =>
    attempt(async () => {
      if (!draft.draft) return;
      const body = {
        build: draft.draft,
        drive,
        kind,
        seconds: plain(seconds, "the time to look at in seconds"),
        height_m: plain(base.height, "the height of the centre of gravity in metres"),
        tilt_deg: plain(base.tilt, "the tilt that it begins from in degrees"),
        unit_per_rpm: plain(follows.unit, "what a rpm of the output makes of it"),
        lag_s: plain(follows.lag, "its lag in seconds, 0 where it adds up"),
        delay_s: plain(follows.late, "how late it is told in seconds"),
        target: plain(follows.target, "the target"),
        table: sensor.table,
        step: plain(sensor.step, "the sensor’s step, 0 for none"),
        gain_pct: own(gains.gain, "the gain"),
        change_pct: own(gains.change, "the gain for its change"),
        adds_pct: own(gains.adds, "the gain for its sum"),
        compensated: added === "yes",
      };
      setFound({ view: await take(api.POST("/api/loop/outer", { body })), kind });
    });
  const unit = kind === "balancing" ? "°" : "unit";
  return (
    <section className="loop-moves" aria-label="An outer loop">
      <h3>An outer loop on another sensor</h3>
      <p className="field-help">
        On the model of this drive, with its breakaway, play and counts. Empty gains are suggested. A base that balances
        can fall on somebody: try it held by hand or on a line. A lag of 0 adds up, as a level does; the sensor’s table
        is truth:told, as 0:0, 10:9.5, 20:21; the centre of gravity counts from the axle.
      </p>
      <p className="button-row asked-row">
        <Pick label="Felt" choices={KINDS} value={kind} onChoose={setKind} />
        {kind === "balancing" ? (
          <>
            <Short label="Centre up, m" value={base.height} onChange={(height) => setBase({ ...base, height })} />
            <Short label="From, degrees" value={base.tilt} onChange={(tilt) => setBase({ ...base, tilt })} />
          </>
        ) : (
          <>
            <Short label="Units a rpm" value={follows.unit} onChange={(u) => setFollows({ ...follows, unit: u })} />
            <Short label="Lag, s" value={follows.lag} onChange={(lag) => setFollows({ ...follows, lag })} />
            <Short label="Told late, s" value={follows.late} onChange={(late) => setFollows({ ...follows, late })} />
            <Short
              label="Target, units"
              value={follows.target}
              onChange={(target) => setFollows({ ...follows, target })}
            />
          </>
        )}
        <Short label="Steps of" value={sensor.step} onChange={(step) => setSensor({ ...sensor, step })} />
        <Short label="Sensor’s table" value={sensor.table} onChange={(table) => setSensor({ ...sensor, table })} />
        <Short label={`Gain, %/${unit}`} value={gains.gain} onChange={(gain) => setGains({ ...gains, gain })} />
        <Short label="For its change" value={gains.change} onChange={(change) => setGains({ ...gains, change })} />
        <Short label="For its sum" value={gains.adds} onChange={(adds) => setGains({ ...gains, adds })} />
        <Pick label="Duty" choices={ADDED} value={added} onChoose={setAdded} />
        <Short label="Time, s" value={seconds} onChange={setSeconds} />
        <Button variant="contained" size="small" onClick={() => void run()}>
          Try it
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {found && <Tried view={found.view} kind={found.kind} />}
    </section>
  );
}

function Tried({ view, kind }: { view: View; kind: Kind }) {
  const felt = kind === "balancing" ? "tilt, °" : "felt";
  const gains = [
    [kind === "balancing" ? "Gain, % a degree" : "Gain, % a unit", view.gain_pct],
    ["For its change", view.change_pct],
    ["For its sum", view.adds_pct],
    ["For a rpm of the motor, %", view.by_speed_pct],
    ["Added below, %", view.offset_pct],
    ["Peak, A", view.peak_a],
  ] as const;
  return (
    <>
      <Says lines={view.says} />
      <Plot
        x={view.time_s}
        xLabel="time, s"
        height={230}
        axes={[
          { id: "y", label: felt, side: "left" },
          { id: "n", label: "motor, rpm", side: "right" },
        ]}
        lines={[
          { id: "felt", label: felt, data: view.felt, axis: "y", tone: 1, labelAt: 0.3, labelDy: -10 },
          { id: "speed", label: "motor", data: view.speed_rpm, axis: "n", tone: 2, labelAt: 0.8, labelDy: 14 },
        ]}
        words={`What is felt and the motor’s speed over time. ${view.says.join(" ")}`}
        readOff="Read off at a time"
        units={{ speed: "rpm" }}
      />
      <ToldFigures rows={gains.map(([name, value]) => [name, value === 0 ? "0" : value.toPrecision(3)] as const)} />
    </>
  );
}

import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useEffect, useRef, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { KeepFile } from "@/shared/KeepFile";
import { Plot } from "@/shared/Plot";
import { plain, Short } from "@/shared/asked";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveFile } from "@/shared/files";
import { readOf, sayTo, type Instrument } from "./desk";

type Record_ = components["schemas"]["Record"];
type Props = { x: Instrument; onChange: () => void };
/** Between two looks while a reading is followed. */
const EVERY_MS = 100;
/** Readings that the trace holds. */
const HELD = 300;

/** A value again and again while it is followed: each look begins when the last has ended. */
function useFollowed(ask: () => Promise<number>, following: boolean, onFail: (words: string) => void) {
  const [trace, setTrace] = useState<{ t: number; v: number }[]>([]);
  const asked = useRef(ask);
  const failed = useRef(onFail);
  useEffect(() => {
    asked.current = ask;
    failed.current = onFail;
  });
  useEffect(() => {
    if (!following) return;
    let stopped = false;
    const begun = performance.now();
    setTrace([]);
    const look = async () => {
      while (!stopped) {
        const at = performance.now();
        try {
          const v = await asked.current();
          if (!stopped) setTrace((held) => [...held.slice(1 - HELD), { t: (at - begun) / 1000, v }]);
        } catch (error) {
          if (!stopped) failed.current((error as Error).message);
          return;
        }
        await new Promise((go) => setTimeout(go, Math.max(EVERY_MS - (performance.now() - at), 0)));
      }
    };
    void look();
    return () => {
      stopped = true;
    };
  }, [following]);
  return trace;
}

function FollowButton({ following, onTurn }: { following: boolean; onTurn: () => void }) {
  return (
    <Button size="small" aria-pressed={following} onClick={onTurn}>
      {following ? "Stop following" : "Follow"}
    </Button>
  );
}

/** Whether something is followed, and why it stopped by itself. */
function useFollowing(onStopped: () => void) {
  const [following, setFollowing] = useState(false);
  const [failed, setFailed] = useState("");
  const turn = () => {
    setFailed("");
    setFollowing((on) => !on);
  };
  const fail = (words: string) => {
    setFailed(words);
    setFollowing(false);
    onStopped();
  };
  return { following, failed, turn, fail };
}

/** What an instrument measures: once, or followed. */
function Readings({ x, onChange }: Props) {
  const [what, setWhat] = useState(x.reads[0]?.id ?? "");
  const { following, failed, turn, fail } = useFollowing(onChange);
  const [last, setLast] = useState("");
  const { problem, attempt } = useAttempt();
  const trace = useFollowed(
    async () => {
      const got = await readOf(x.id, what);
      setLast(`${got.text}`);
      return got.value;
    },
    following,
    fail,
  );
  const once = () =>
    attempt(async () => {
      try {
        setLast((await readOf(x.id, what)).text);
      } finally {
        onChange();
      }
    });
  const values = trace.map((p) => p.v);
  return (
    <>
      <p className="button-row">
        <label>
          Reads{" "}
          <select className="field-choice" value={what} onChange={(e) => setWhat(e.target.value)} disabled={following}>
            {x.reads.map((r) => (
              <option key={r.id} value={r.id}>
                {r.title}
              </option>
            ))}
          </select>
        </label>
        <Button size="small" variant="outlined" onClick={() => void once()} disabled={following}>
          Read
        </Button>
        <FollowButton following={following} onTurn={turn} />
        <b className="instrument-value num" role={following ? undefined : "status"}>
          {last}
        </b>
      </p>
      <Problem>{problem || failed}</Problem>
      {values.length > 1 && (
        <>
          <Trace points={trace} />
          <p className="field-help">
            Lowest {Math.min(...values).toPrecision(4)}, highest {Math.max(...values).toPrecision(4)}, {values.length}{" "}
            readings.
          </p>
        </>
      )}
    </>
  );
}

/** The last readings as one line: cheap to draw ten times a second. */
function Trace({ points }: { points: { t: number; v: number }[] }) {
  const values = points.map((p) => p.v);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const [from, to] = [points[0]?.t ?? 0, points.at(-1)?.t ?? 1];
  const x = (t: number) => (400 * (t - from)) / (to - from || 1);
  const y = (v: number) => 55 - (50 * (v - low)) / (high - low || 1);
  return (
    <svg
      viewBox="0 0 400 60"
      preserveAspectRatio="none"
      className="live-trace"
      role="img"
      aria-label="The last readings"
    >
      <polyline points={points.map((p) => `${x(p.t).toFixed(1)},${y(p.v).toFixed(1)}`).join(" ")} />
    </svg>
  );
}

export function MeterCard(props: Props) {
  return <Readings {...props} />;
}

/** A supply: its limit is set before its volts, and its output goes on by this button alone. */
export function SupplyCard({ x, onChange }: Props) {
  const [volts, setVolts] = useState(x.volts ? `${x.volts}` : "");
  const [limit, setLimit] = useState(x.limit_a ? `${x.limit_a}` : "");
  const { problem, attempt } = useAttempt();
  const put = (on: boolean) =>
    attempt(async () => {
      const body = { volts: plain(volts, "the volts"), limit_a: plain(limit, "the current limit"), on };
      try {
        await take(api.POST("/api/instruments/{id}/supply", { params: { path: { id: x.id } }, body }));
      } finally {
        onChange();
      }
    });
  return (
    <>
      <p className="button-row asked-row">
        <Short label={`Volts, to ${x.most_v}`} value={volts} onChange={setVolts} />
        <Short label={`Current limit, A, to ${x.most_a}`} value={limit} onChange={setLimit} />
        <Button size="small" variant="outlined" onClick={() => void put(x.on)}>
          Set
        </Button>
        <Button size="small" variant={x.on ? "outlined" : "contained"} onClick={() => void put(!x.on)}>
          {x.on ? "Output off" : "Output on"}
        </Button>
        <b className={x.on ? "output-on" : ""} role="status">
          {x.on ? `Output is on: ${x.volts} V, at most ${x.limit_a} A` : "Output is off"}
        </b>
      </p>
      <Problem>{problem}</Problem>
      <p className="field-help">
        The limit is set before the volts. It does not hold back what the capacitor at its output gives at once.
      </p>
      <Readings x={x} onChange={onChange} />
    </>
  );
}

/** An oscilloscope: one record at a time. */
export function ScopeCard({ x, onChange }: Props) {
  const [range, setRange] = useState("20");
  const [step, setStep] = useState("1");
  const [count, setCount] = useState("2000");
  const [got, setGot] = useState<Record_ | null>(null);
  const { problem, attempt } = useAttempt();
  const record = () =>
    attempt(async () => {
      const body = {
        most_v: plain(range, "the range in volts"),
        interval_s: plain(step, "the time from sample to sample, in µs") * 1e-6,
        points: Math.round(plain(count, "how many samples")),
      };
      try {
        setGot(await take(api.POST("/api/instruments/{id}/record", { params: { path: { id: x.id } }, body })));
      } finally {
        onChange();
      }
    });
  const file = got && new Blob([got.csv], { type: "text/csv" });
  return (
    <>
      <p className="button-row asked-row">
        <Short label="Range, ± V" value={range} onChange={setRange} />
        <Short label="Sample each, µs" value={step} onChange={setStep} />
        <Short label="Samples" value={count} onChange={setCount} />
        <Button size="small" variant="outlined" onClick={() => void record()}>
          Take a record
        </Button>
      </p>
      <Problem>{problem}</Problem>
      {got && file && (
        <>
          <Plot
            x={got.points.map(([t = 0]) => t * 1e3)}
            xLabel="ms"
            axes={[{ id: "v", label: "V" }]}
            lines={[{ id: "v", label: "", data: got.points.map(([, v = 0]) => v), axis: "v", tone: 1, step: true }]}
            height={200}
            words={`A record from ${got.low_v} to ${got.high_v} V, ${got.mean_v.toPrecision(4)} V in the mean`}
          />
          <p className="field-help">
            From {got.low_v.toPrecision(4)} to {got.high_v.toPrecision(4)} V, mean {got.mean_v.toPrecision(4)} V.
          </p>
          <Button size="small" onClick={() => saveFile("record.csv", got.csv, "text/csv")}>
            Save as CSV
          </Button>
          <KeepFile file={file} name="record.csv" says={`Record of ${x.name}: mean ${got.mean_v.toPrecision(4)} V`} />
        </>
      )}
    </>
  );
}

/** A motor board: a line at a time; while it is followed it is asked ten times a second, which keeps it running. */
export function BoardCard({ x, onChange }: Props) {
  const [line, setLine] = useState("status 1");
  const [said, setSaid] = useState<{ asked: string; answer: string }[]>([]);
  const { following, failed, turn, fail } = useFollowing(onChange);
  const [now, setNow] = useState("");
  const { problem, attempt } = useAttempt();
  useFollowed(
    async () => {
      setNow(await sayTo(x.id, "status 1"));
      return 0;
    },
    following,
    fail,
  );
  const say = () =>
    attempt(async () => {
      try {
        const answer = await sayTo(x.id, line);
        setSaid((held) => [{ asked: line, answer }, ...held].slice(0, 12));
      } finally {
        onChange();
      }
    });
  return (
    <>
      <form
        className="button-row asked-row"
        onSubmit={(e) => {
          e.preventDefault();
          if (line.trim()) void say();
        }}
      >
        <TextField
          size="small"
          label="Line, without its check"
          value={line}
          onChange={(e) => setLine(e.target.value)}
        />
        <Button size="small" type="submit" variant="outlined">
          Send
        </Button>
        <FollowButton following={following} onTurn={turn} />
        <span className="num">{following ? now : ""}</span>
      </form>
      <p className="field-help">
        A board that hears nothing stops what the port asked for: follow it to keep it running.
      </p>
      <Problem>{problem || failed}</Problem>
      <ul className="board-said" aria-label="Said and answered">
        {said.map((s, i) => (
          <li key={said.length - i}>
            <code>{s.asked}</code> → <code>{s.answer}</code>
          </li>
        ))}
      </ul>
    </>
  );
}

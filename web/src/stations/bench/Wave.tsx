import Button from "@mui/material/Button";
import { useId, useState } from "react";
import { api, sendFile, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { FilePicker } from "@/shared/FilePicker";
import { KeepFile } from "@/shared/KeepFile";
import { OneOf } from "@/shared/OneOf";
import { Plot } from "@/shared/Plot";
import { Says } from "@/shared/Says";
import { Problem, useAttempt } from "@/shared/attempt";
import { Progress, useLongWork } from "@/shared/longWork";
import type { Step } from "./step";

type Wave = NonNullable<Step["wave"]>;
type Found = components["schemas"]["WaveCaptureView"];
type Remark = components["schemas"]["SettingRemark"];

const WIDE = 10;
const HIGH = 8;
const CELL = 30;

/** What the screen is to show at the setting that is advised: pulses on its divisions, nothing at the lowest but two. */
export function WavePicture({ wave }: { wave: Wave }) {
  const zero = HIGH - 1.5;
  const y = (volts: number) => (zero - volts / wave.volts_per_div) * CELL;
  const period = 1 / wave.frequency_hz / wave.time_per_div;
  const corners: string[] = [`M0 ${y(wave.low_v)}`];
  for (let start = 0.5; start < WIDE; start += period) {
    const down = Math.min(start + wave.duty * period, WIDE);
    corners.push(`H${start * CELL}V${y(wave.high_v)}H${down * CELL}`);
    if (down < WIDE) corners.push(`V${y(wave.low_v)}`);
  }
  if (!corners.at(-1)?.startsWith("H")) corners.push(`H${WIDE * CELL}`);
  const lines = (count: number) => Array.from({ length: count + 1 }, (_, i) => i * CELL);
  return (
    <figure className="wave">
      <svg
        viewBox={`-34 -6 ${WIDE * CELL + 40} ${HIGH * CELL + 12}`}
        role="img"
        aria-label={`To be seen, at ${wave.words}`}
      >
        <path
          className="wave-grid"
          d={[
            ...lines(WIDE).map((x) => `M${x} 0V${HIGH * CELL}`),
            ...lines(HIGH).map((v) => `M0 ${v}H${WIDE * CELL}`),
          ].join("")}
        />
        <path className="wave-zero" d={`M0 ${y(0)}H${WIDE * CELL}`} />
        <path className="wave-line" d={corners.join("")} />
        <text x={-6} y={y(0) + 4} textAnchor="end">
          0 V
        </text>
      </svg>
      <figcaption>
        To be seen, at {wave.words}. With the motor joined it looks the same here; thin spikes at the edges come along
        the ground clip’s lead.
      </figcaption>
    </figure>
  );
}

/** The setting that the builder has, judged. */
export function OwnSetting({ wave }: { wave: Wave }) {
  const id = useId();
  const [volts, setVolts] = useState("");
  const [time, setTime] = useState("");
  const [probe, setProbe] = useState("10");
  const [divides, setDivides] = useState("10");
  const [coupling, setCoupling] = useState("DC");
  const [found, setFound] = useState<Remark[]>([]);
  const { problem, attempt } = useAttempt();
  const judge = () =>
    attempt(async () => {
      setFound([]);
      const { low_v, high_v, frequency_hz, duty } = wave;
      const body = {
        wave: { low_v, high_v, frequency_hz, duty },
        volts_per_div: volts,
        time_per_div: time,
        probe: probe as "1" | "10",
        divides_by: divides as "1" | "10",
        coupling: coupling as "DC" | "AC",
      };
      setFound(await take(api.POST("/api/captures/setting", { body })));
    });
  return (
    <details className="wave-own">
      <summary>Mine is set otherwise</summary>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void judge();
        }}
      >
        <label htmlFor={`${id}v`}>Volts a division</label>
        <input id={`${id}v`} value={volts} onChange={(e) => setVolts(e.target.value)} autoComplete="off" />
        <label htmlFor={`${id}t`}>Time a division</label>
        <input id={`${id}t`} value={time} onChange={(e) => setTime(e.target.value)} autoComplete="off" />
        <span>Probe’s switch</span>
        <OneOf label="Probe’s switch" value={probe} onChoose={setProbe} choices={TIMES} />
        <span>Instrument told</span>
        <OneOf label="Instrument told" value={divides} onChoose={setDivides} choices={TIMES} />
        <span>Coupling</span>
        <OneOf label="Coupling" value={coupling} onChoose={setCoupling} choices={COUPLINGS} />
        <Button type="submit" size="small" variant="outlined" disabled={!volts.trim() || !time.trim()}>
          What will it show?
        </Button>
      </form>
      <Problem>{problem}</Problem>
      <ul className="plain-list" role="status">
        {found.map((r) => (
          <li key={r.text} className={r.good ? "verdict-pass" : "verdict-fail"}>
            {r.good ? "✓" : "✕"} {r.text}
          </li>
        ))}
      </ul>
    </details>
  );
}

const TIMES = [
  { key: "1", label: "×1" },
  { key: "10", label: "×10" },
];
const COUPLINGS = [
  { key: "DC", label: "DC" },
  { key: "AC", label: "AC" },
];

type Mapped = { clock?: string; clock_unit?: string; unit_a?: string; unit_b?: string };
/** What was told of one channel is not true of the next. */
function without(mapped: Mapped, key: keyof Mapped): Mapped {
  const rest = { ...mapped };
  delete rest[key];
  return rest;
}
const TIME_UNITS = ["s", "ms", "µs", "ns", "min"];
const LEVEL_UNITS = ["V", "mV", "A", "mA"];

/** Which column is the time, and what the numbers stand for: as the file tells it, or as its reader says. */
function Columns({ found, onTell }: { found: Found; onTell: (told: Mapped, anew: boolean) => void }) {
  const units = (label: string, key: "clock_unit" | "unit_a" | "unit_b", value: string, among: string[]) => (
    <label>
      {key === "clock_unit" ? "in" : label}{" "}
      <select aria-label={`Unit of ${label}`} value={value} onChange={(e) => onTell({ [key]: e.target.value }, false)}>
        {value === "" && <option value="">volts, untold</option>}
        {among.map((u) => (
          <option key={u}>{u}</option>
        ))}
      </select>
    </label>
  );
  return (
    <p className="button-row">
      <label>
        Time{" "}
        <select
          aria-label="Column of the time"
          value={found.clock}
          onChange={(e) => onTell({ clock: e.target.value }, true)}
        >
          {found.columns.map((name, i) => (
            <option key={i} value={i}>
              {name || `column ${i + 1}`}
            </option>
          ))}
        </select>
      </label>
      {units("the time", "clock_unit", found.clock_unit, TIME_UNITS)}
      {units(found.signals[found.a] ?? "Level", "unit_a", found.units[0] ?? "", LEVEL_UNITS)}
      {found.b >= 0 && units(found.signals[found.b] ?? "Second", "unit_b", found.units[1] ?? "", LEVEL_UNITS)}
    </p>
  );
}

/** A capture measured: its figures, what is doubtful about it, and its picture with the expected wave laid over. */
export function MeasuredCapture({ step, onRead }: { step: Step; onRead: (text: string) => void }) {
  const { ticket, problem, work, stop } = useLongWork();
  const [file, setFile] = useState<File | null>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [mapped, setMapped] = useState<Mapped>({});
  const look = (picked: File, a = -1, b = -2, told: Mapped = mapped) =>
    work(async (how) => {
      setFile(picked);
      setMapped(told);
      const asked = new URLSearchParams({ a: String(a), b: String(b), ...told });
      if (step.wave)
        for (const key of ["low_v", "high_v", "frequency_hz", "duty"] as const) asked.set(key, String(step.wave[key]));
      setFound(await sendFile<Found>(`/api/captures/wave?${asked}`, picked, "text/csv", how));
    });
  const usable = (kind: string) => kind === step.kind;
  return (
    <section className="wave-capture" aria-label="A capture, measured">
      <p className="button-row no-print">
        <FilePicker
          size="small"
          variant="outlined"
          label="Capture to measure"
          accept=".csv,.txt,.tsv,.vcd"
          onPick={(picked) => {
            setFound(null);
            void look(picked, -1, -2, {});
          }}
        >
          Measure a capture …
        </FilePicker>
        <Progress ticket={ticket} words="Measuring …" onStop={stop} />
      </p>
      <Problem>{problem}</Problem>
      {found && file && (
        <>
          <p className="button-row">
            <label>
              Channel{" "}
              <select
                value={found.a}
                onChange={(e) => void look(file, Number(e.target.value), found.b, without(mapped, "unit_a"))}
              >
                {found.signals.map((name, i) => (
                  <option key={i} value={i}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
            {found.signals.length > 1 && (
              <label>
                Beside it{" "}
                <select
                  value={found.b}
                  onChange={(e) => void look(file, found.a, Number(e.target.value), without(mapped, "unit_b"))}
                >
                  <option value={-2}>none</option>
                  {found.signals.map((name, i) => (
                    <option key={i} value={i}>
                      {name}
                    </option>
                  ))}
                </select>
              </label>
            )}
          </p>
          {found.columns.length > 0 && (
            <Columns
              found={found}
              onTell={(told, anew) =>
                // Another column for the time numbers the channels anew: what was told of the old ones is over.
                void (anew ? look(file, -1, -2, told) : look(file, found.a, found.b, { ...mapped, ...told }))
              }
            />
          )}
          <Says lines={found.says} />
          <Shape found={found} />
          <dl className="told-figures">
            {found.rows.map((r) => (
              <div key={r.name}>
                <dt>{r.name}</dt>
                <dd className="num">
                  {r.text}{" "}
                  {usable(r.kind) && (
                    <Button size="small" onClick={() => onRead(r.text)} aria-label={`Take ${r.name} as the reading`}>
                      Take
                    </Button>
                  )}
                </dd>
              </div>
            ))}
          </dl>
          <KeepFile
            file={file}
            name={file.name}
            says={`${step.title}: ${found.rows.map((r) => `${r.name} ${r.text}`).join(", ")}`}
          />
        </>
      )}
    </section>
  );
}

function Shape({ found }: { found: Found }) {
  const span = found.time_s.at(-1) ?? 0;
  const [unit, factor] = span < 2e-3 ? (["µs", 1e6] as const) : span < 2 ? (["ms", 1e3] as const) : (["s", 1] as const);
  const both = found.second.length > 0;
  const lines = [
    { id: "a", label: found.signals[found.a] ?? "", data: found.first, axis: "v", tone: 1 as const, labelAt: 0.2 },
    ...(both
      ? [
          {
            id: "b",
            label: found.signals[found.b] ?? "",
            data: found.second,
            axis: "v",
            tone: 2 as const,
            labelAt: 0.5,
          },
        ]
      : []),
    ...(found.expected.length && !both
      ? [{ id: "e", label: "expected", data: found.expected, axis: "v", tone: 3 as const, labelAt: 0.7 }]
      : []),
  ];
  return (
    <Plot
      x={found.time_s.map((t) => t * factor)}
      xLabel={`time, ${unit}`}
      height={190}
      axes={[{ id: "v", label: "", side: "left" }]}
      lines={lines.map((l) => ({ ...l, labelDy: -8 }))}
      words="The beginning of the capture, with what was expected laid over a rise of it."
      readOff="Read off at a time"
    />
  );
}

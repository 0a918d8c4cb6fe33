import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useId, useState } from "react";
import type { components } from "@/../generated/schema";
import { Plot } from "@/shared/Plot";
import { sendFile, transfer } from "@/api/client";
import { Problem } from "@/shared/attempt";
import { Progress, useLongWork, type How } from "@/shared/longWork";
import { FilePicker } from "@/shared/FilePicker";
import { useShell } from "@/draft/context";
import { applyChanges } from "@/draft/changes";

type Preview = components["schemas"]["CapturePreview"];
type Fit = components["schemas"]["SpinUpView"];
type Mapping = Record<string, string>;

/** Takes a captured spin-up in: columns by preview, the fit with its residuals, and its constants into the build. */
export default function SpinUp({ onClose }: { onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [mapping, setMapping] = useState<Mapping>({});
  const [more, setMore] = useState({ supply: "", final_speed: "", brush_drop: "0 V" });
  const [fit, setFit] = useState<Fit | null>(null);
  const { ticket, busy, problem, work, stop } = useLongWork();
  const [words, setWords] = useState("");
  const begin = (said: string, act: (how: How) => Promise<void>) => {
    setWords(said);
    return work(act);
  };
  const open = (picked: File) =>
    begin("Reading the file …", async (how) => {
      setFit(null);
      setPreview(null);
      const got = await sendFile<Preview>("/api/captures/preview", picked, "text/csv", how);
      setFile(picked);
      setPreview(got);
      setMapping(
        Object.fromEntries(
          got.columns.map((c, i) => [c.role, `${i}:${c.role_unit}`]).filter(([role]) => role),
        ) as Mapping,
      );
    });
  const example = () =>
    begin("Fetching the example …", async ({ signal }) => {
      const response = await transfer("/api/captures/example", { signal });
      void open(new File([await response.blob()], "cider_stirrer_spin_up.csv"));
    });
  const run = () =>
    begin("Fitting …", async (how) => {
      if (!file) return;
      const query = new URLSearchParams({ time: "", current: "", ...mapping, ...more });
      setFit(await sendFile<Fit>(`/api/captures/spin-up?${query.toString()}`, file, "text/csv", how));
    });

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg" aria-labelledby="spin-title">
      <div className="dialog spin-up">
        <h2 id="spin-title">A captured spin-up</h2>
        <p className="field-help">
          Free shaft, at rest, then switched on: time and current, and if you can volts and speed, as CSV from an
          oscilloscope. Two voltages in one capture tell constant friction from friction that grows with speed. Hold the
          motor down: it jumps as it starts.
        </p>
        <p className="button-row">
          <FilePicker
            autoFocus
            variant="outlined"
            label="Capture file"
            accept=".csv,.txt,.tsv,text/csv"
            onPick={(picked) => void open(picked)}
          >
            Choose a CSV file …
          </FilePicker>
          <Button onClick={() => void example()}>Take the stirrer’s example</Button>
          <Progress ticket={ticket} words={words} onStop={stop} />
        </p>
        <Problem>{problem}</Problem>
        {preview && <Columns preview={preview} name={file?.name ?? ""} mapping={mapping} onMap={setMapping} />}
        {preview && <More more={more} mapping={mapping} onMore={setMore} />}
        {preview && (
          <p className="button-row">
            <Button
              variant="contained"
              disabled={busy || !mapping["time"] || !mapping["current"]}
              onClick={() => void run()}
            >
              Fit the constants
            </Button>
          </p>
        )}
        {fit && <Fitted fit={fit} onTaken={onClose} />}
        <div className="dialog-foot">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Dialog>
  );
}

type ColumnsProps = { preview: Preview; name: string; mapping: Mapping; onMap: (m: Mapping) => void };

function Columns({ preview, name, mapping, onMap }: ColumnsProps) {
  const id = useId();
  const roleOf = (i: number) => Object.keys(mapping).find((r) => mapping[r]?.startsWith(`${i}:`)) ?? "";
  const set = (i: number, role: string, unit = preview.roles[role]?.[0] ?? "") => {
    const next = Object.fromEntries(Object.entries(mapping).filter(([r, v]) => r !== role && !v.startsWith(`${i}:`)));
    if (role) next[role] = `${i}:${unit}`;
    onMap(next);
  };
  return (
    <>
      <p>
        <b>{name}</b>: {preview.rows.toLocaleString("en-GB").replaceAll(",", "\u202f")} rows, {preview.delimiter}{" "}
        between columns, decimal {preview.decimal}.
      </p>
      <div className="scroll-x">
        <table className="grid-table capture-table">
          <thead>
            <tr>
              {preview.columns.map((c, i) => (
                <th key={c.name + i} scope="col">
                  {c.name}
                  {c.unit && ` (${c.unit})`}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              {preview.columns.map((c, i) => {
                const role = roleOf(i);
                return (
                  <td key={c.name + i}>
                    <label className="unseen" htmlFor={`${id}-${i}`}>{`What ${c.name} is`}</label>
                    <select id={`${id}-${i}`} value={role} onChange={(e) => set(i, e.target.value)}>
                      <option value="">not used</option>
                      {Object.keys(preview.roles).map((r) => (
                        <option key={r}>{r}</option>
                      ))}
                    </select>
                    {role && (
                      <select
                        aria-label={`Unit of ${c.name}`}
                        value={mapping[role]?.split(":")[1]}
                        onChange={(e) => set(i, role, e.target.value)}
                      >
                        {preview.roles[role]?.map((u) => (
                          <option key={u}>{u}</option>
                        ))}
                      </select>
                    )}
                  </td>
                );
              })}
            </tr>
            <tr>
              {preview.columns.map((c, i) => (
                <td key={c.name + i}>
                  <Shape column={c} />
                </td>
              ))}
            </tr>
            {preview.columns[0]?.first.map((_, row) => (
              <tr key={row}>
                {preview.columns.map((c, i) => (
                  <td key={c.name + i} className="num">
                    {c.first[row]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function Shape({ column }: { column: Preview["columns"][number] }) {
  const span = column.high - column.low || 1;
  const step = 120 / Math.max(column.shape.length - 1, 1);
  const path = column.shape
    .map((v, i) => `${i ? "L" : "M"}${i * step} ${30 - ((v - column.low) / span) * 28}`)
    .join("");
  return (
    <svg
      width="120"
      height="32"
      role="img"
      aria-label={`from ${column.low.toPrecision(4)} to ${column.high.toPrecision(4)}`}
    >
      <path d={path} className="shape" />
    </svg>
  );
}

type MoreProps = {
  more: { supply: string; final_speed: string; brush_drop: string };
  mapping: Mapping;
  onMore: (m: MoreProps["more"]) => void;
};

function More({ more, mapping, onMore }: MoreProps) {
  const id = useId();
  const field = (key: keyof MoreProps["more"], label: string, hint: string) => (
    <label htmlFor={`${id}-${key}`}>
      {label}
      <input
        id={`${id}-${key}`}
        value={more[key]}
        placeholder={hint}
        onChange={(e) => onMore({ ...more, [key]: e.target.value })}
      />
    </label>
  );
  return (
    <p className="what-if-fields">
      {!mapping["voltage"] && field("supply", "Supply, constant", "V")}
      {!mapping["speed"] && field("final_speed", "Final speed, if you read it", "rpm")}
      {field("brush_drop", "Brush drop", "V")}
    </p>
  );
}

/** The fit: data and model, residuals, constants with their intervals, and what could not be told. */
function Fitted({ fit, onTaken }: { fit: Fit; onTaken: () => void }) {
  const { draft, drive, say } = useShell();
  const t = fit.trace["time_s"] ?? [];
  const enough = fit.take_over.length > 0;
  const takeOver = () => {
    draft.edit("Constants from the spin-up", (build) => applyChanges(build, fit.take_over, `drives.${drive}.motor.`));
    say("The constants are in the build, as measured. Undo takes them back.");
    onTaken();
  };
  return (
    <section aria-label="The fit">
      <h3>
        Data and model, {fit.rows.toLocaleString("en-GB").replaceAll(",", "\u202f")} rows, noise {fit.noise}
      </h3>
      <Plot
        x={t}
        xLabel="time, s"
        axes={[{ id: "a", label: "current, A", side: "left" }]}
        lines={[
          { id: "data", label: "data", data: fit.trace["current_a"] ?? [], axis: "a", tone: 1, labelAt: 0.35 },
          { id: "model", label: "model", data: fit.trace["model_a"] ?? [], axis: "a", tone: 2, labelAt: 0.6 },
        ]}
        words={`Captured current and the fitted model over ${(t.at(-1) ?? 0).toPrecision(3)} s.`}
        height={190}
      />
      <Plot
        x={t}
        xLabel="time, s"
        axes={[{ id: "a", label: "left over, A", side: "left" }]}
        lines={[{ id: "left", label: "", data: fit.trace["residual_a"] ?? [], axis: "a", tone: 4 }]}
        words="What the model leaves over."
        height={120}
      />
      {fit.notes.map((n) => (
        <p key={n} className="hint">
          {n}
        </p>
      ))}
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">Constant</th>
            <th scope="col">Value</th>
            <th scope="col">95 % interval</th>
          </tr>
        </thead>
        <tbody>
          {fit.constants.map((c) => (
            <tr key={c.name}>
              <td>{c.title}</td>
              {c.text ? (
                <>
                  <td className="num">{c.text}</td>
                  <td className="num">{c.doubt}</td>
                </>
              ) : (
                <td colSpan={2}>not reported: {c.reason}</td>
              )}
            </tr>
          ))}
          {fit.time_constant && (
            <tr>
              <td>Mechanical time constant</td>
              <td className="num">{fit.time_constant}</td>
              <td />
            </tr>
          )}
        </tbody>
      </table>
      <p className="button-row">
        <Button variant="contained" disabled={!enough} onClick={takeOver}>
          Take the constants over
        </Button>
        {!enough && <span>Resistance and motor constant are needed to take them over.</span>}
      </p>
    </section>
  );
}

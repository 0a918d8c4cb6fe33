import type { PictureOf } from "@/api/client";
import { FrequencyWindow } from "./FrequencyWindow";

type View = PictureOf<"signals">;

/** The window of frequencies, the controller's timers and pins side by side, and the duty in every scale. */
export function Timers({ p }: { p: View }) {
  return (
    <>
      <FrequencyWindow view={p.window} />
      {p.conflict.length > 0 && (
        <div className="problem" role="note">
          <p>Not every pulse of this controller finds a timer:</p>
          <ul>
            {p.conflict.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      )}
      {p.pulse_pins.length > 0 && (
        <div className="scroll">
          <table className="grid-table">
            <caption>Pins that can carry these pulses</caption>
            <thead>
              <tr>
                <th>Pin</th>
                <th>Timer</th>
                <th>Best setting there</th>
                <th>Off by</th>
                <th>Steps</th>
                <th>Used for</th>
              </tr>
            </thead>
            <tbody>
              {p.pulse_pins.map((t) => (
                <tr key={t.pin}>
                  <td>{t.pin}</td>
                  <td>{t.timer}</td>
                  <td className="num">{t.setting}</td>
                  <td className="num">{t.error}</td>
                  <td className="num">{t.steps}</td>
                  <td>{t.taken_by}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="field-help">{p.software}</p>
      {p.timers.length > 0 && (
        <div className="scroll">
          <table className="grid-table">
            <caption>Timer settings, best first</caption>
            <thead>
              <tr>
                <th>Timer</th>
                <th>Prescaler</th>
                <th>Top</th>
                <th>Real frequency</th>
                <th>Off by</th>
                <th>Steps</th>
                <th>Pins</th>
              </tr>
            </thead>
            <tbody>
              {p.timers.map((t) => (
                <tr key={t.timer + t.prescaler} className={t.chosen ? "row-chosen" : ""}>
                  <td>
                    {t.chosen && "✓ "}
                    {t.timer}
                  </td>
                  <td className="num">÷{t.prescaler}</td>
                  <td className="num">{t.top}</td>
                  <td className="num">{t.frequency}</td>
                  <td className="num">{t.error}</td>
                  <td className="num">{t.steps}</td>
                  <td>{t.pins}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {p.scales.length > 0 && (
        <dl className="run-figures" aria-label="The working duty in other scales">
          {p.scales.map((s) => (
            <div key={s.name}>
              <dt>{s.name}</dt>
              <dd className="num">{s.text}</dd>
            </div>
          ))}
        </dl>
      )}
    </>
  );
}

import Button from "@mui/material/Button";
import { useState } from "react";
import type { PictureOf } from "@/api/client";
import { Plot } from "@/shared/Plot";
import { useActions } from "@/draft/context";

type Motor = PictureOf<"motor">;

/** The guided session: the reading to take next, or why nothing more is needed. */
export function Next({ session }: { session: NonNullable<Motor["session"]> }) {
  const { goTo } = useActions();
  if (session.done)
    return (
      <section className="next next-done" aria-label="What to read next">
        <h3>Enough readings</h3>
        <p>{session.done}</p>
        {session.weakest && <p className="field-help">Weakest: {session.weakest}.</p>}
      </section>
    );
  return (
    <section className="next" aria-label="What to read next">
      <h3>Read next: {session.title}</h3>
      <p>{session.how}</p>
      <dl>
        <dt>Setting</dt>
        <dd>{session.setting}</dd>
        <dt>It tells</dt>
        <dd>{session.narrows}</dd>
        <dt>Caution</dt>
        <dd>{session.caution}</dd>
      </dl>
      <Button size="small" onClick={() => goTo("motor", session.where)}>
        Go to the field
      </Button>
    </section>
  );
}

/** Every way from the data sheet to a constant, and how far it lies from the trusted one. */
export function Ways({ ways }: { ways: Motor["ways"] }) {
  return (
    <section aria-label="Ways to the constants">
      <h3>Ways to the constants</h3>
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">Constant</th>
            <th scope="col">From</th>
            <th scope="col">Gives</th>
            <th scope="col">Off by</th>
          </tr>
        </thead>
        <tbody>
          {ways.map((w) => (
            <tr key={`${w.constant}${w.words}`}>
              <td>{w.constant}</td>
              <td>{w.words}</td>
              <td>{w.value}</td>
              <td>
                {w.trusted ? "trusted" : w.off}
                {w.disagrees && <b className="disagrees"> ! disagrees</b>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What would let it creep more slowly, and what each costs. */
export function Remedies({ remedies }: { remedies: Motor["remedies"] }) {
  return (
    <section aria-label="Slower, at which cost">
      <h3>Slower, at which cost</h3>
      <table className="grid-table">
        <thead>
          <tr>
            <th scope="col">Way</th>
            <th scope="col">Lowest, at the output</th>
            <th scope="col">Top speed</th>
            <th scope="col">Torque</th>
            <th scope="col">Price</th>
          </tr>
        </thead>
        <tbody>
          {remedies.map((r) => (
            <tr key={r.name}>
              <td>
                {r.reaches ? "✓ " : "✕ "}
                {r.name}
              </td>
              <td>{r.lowest}</td>
              <td>{r.top_speed}</td>
              <td>{r.torque}</td>
              <td>{r.price}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Winding and housing through a long run, from the hottest air. */
export function Heat({ heat }: { heat: NonNullable<Motor["heat"]> }) {
  const [open, setOpen] = useState(false);
  const end = heat.winding_c.at(-1) ?? 0;
  return (
    <section aria-label="Winding temperature" className="heat">
      <h3>Winding temperature, at work in the hottest air</h3>
      <p>
        It settles at <b>{end.toFixed(0)} °C</b>. {heat.stall_text && `${heat.stall_text}.`}{" "}
        <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Fold" : "Show it over time"}
        </Button>
      </p>
      {open && (
        <Plot
          x={heat.minutes}
          xLabel="time, min"
          axes={[
            { id: "c", label: "°C", side: "left", max: heat.limit_c ? Math.max(heat.limit_c, end) * 1.1 : undefined },
          ]}
          lines={[
            { id: "winding", label: "winding", data: heat.winding_c, axis: "c", tone: 2, labelAt: 0.7, labelDy: -8 },
            { id: "housing", label: "housing", data: heat.housing_c, axis: "c", tone: 1, labelAt: 0.7, labelDy: 18 },
          ]}
          marks={
            heat.limit_c === null
              ? []
              : [{ y: heat.limit_c, axis: "c", label: `limit ${heat.limit_c} °C`, tone: "stop" }]
          }
          words={`The winding settles at ${end.toFixed(0)} °C. ${heat.stall_text}.`}
          height={200}
        />
      )}
    </section>
  );
}

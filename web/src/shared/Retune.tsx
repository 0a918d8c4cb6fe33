import type { Schemas } from "@/api/client";

/** Settings that stayed while the motor, the gear or the load they were set for moved. */
export function Retune({ rows }: { rows: Schemas["RetuneRow"][] }) {
  return (
    <ul className="retune">
      {rows.map((r) => (
        <li key={r.what + r.drive}>
          <b>{r.what}</b>
          {r.drive && `, ${r.drive}`}, set to {r.text}. <small>{r.moved.join("; ")}.</small>{" "}
          {r.now ? `Worked out now: ${r.now}.` : "To be found on the bench."}
        </li>
      ))}
    </ul>
  );
}

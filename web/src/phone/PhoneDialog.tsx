import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Problem, useAttempt } from "@/shared/attempt";
import "./phone.css";

const KEY = ["lan"];
const LOOK_MS = 2000;

/** Letting a phone in: its code as text and as a square, who is let in, and how to end it. */
export function PhoneDialog({ onClose }: { onClose: () => void }) {
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: KEY, queryFn: () => take(api.GET("/api/lan")), refetchInterval: LOOK_MS });
  const [shown, setShown] = useState<components["schemas"]["CodeView"] | null>(null);
  const { problem, attempt } = useAttempt();
  const again = () => queries.invalidateQueries({ queryKey: KEY });
  const show = () =>
    attempt(async () => {
      setShown(await take(api.POST("/api/lan/code")));
      await again();
    });
  const end = (number: number | null) =>
    attempt(async () => {
      await take(api.POST("/api/lan/revoke", { body: { number } }));
      await again();
    });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="phone-title">
      <div className="dialog-body phone-dialog">
        <h2 id="phone-title">Phone at the bench</h2>
        {data && !data.on && (
          <p>
            Phones are not let in. Start the service with <code>./zw serve --lan</code> for an evening at the bench.
          </p>
        )}
        {data?.on && (
          <>
            <p>
              A phone in the same network shows this code and may then read, and enter readings, notes and pictures, for
              twelve hours. It never drives an instrument. This is plain HTTP: whoever shares the network can read along
              and could take the phone’s place. In a network of strangers leave it off.
            </p>
            <Button variant="outlined" onClick={() => void show()}>
              {shown ? "Another code" : "Show a code"}
            </Button>
            {shown && data.code_left_s > 0 && (
              <div className="phone-code">
                <Square rows={shown.rows} />
                <p>
                  <b className="num">{shown.code}</b>
                  <br />
                  <span className="phone-url">{shown.url}</span>
                  <br />
                  for one phone, {Math.ceil(data.code_left_s / 60)} min more, five tries
                </p>
              </div>
            )}
            {shown && data.code_left_s === 0 && <p role="status">The code is used up, or its time is over.</p>}
            {data.sessions.length > 0 && (
              <ul className="plain-list">
                {data.sessions.map((s) => (
                  <li key={s.number}>
                    Phone {s.number}, {s.minutes_left} min more{" "}
                    <Button size="small" onClick={() => void end(s.number)}>
                      End it
                    </Button>
                  </li>
                ))}
                <li>
                  <Button size="small" onClick={() => void end(null)}>
                    End all
                  </Button>
                </li>
              </ul>
            )}
          </>
        )}
        <Problem>{problem}</Problem>
        <Button onClick={onClose}>Close</Button>
      </div>
    </Dialog>
  );
}

/** A square code, dark on light in any colours: scanners want it so. */
function Square({ rows }: { rows: string[] }) {
  const size = rows.length;
  const dark = rows.flatMap((row, y) => [...row].flatMap((bit, x) => (bit === "1" ? [`M${x} ${y}h1v1h-1z`] : [])));
  return (
    <svg viewBox={`-4 -4 ${size + 8} ${size + 8}`} role="img" aria-label="The address with its code, to scan">
      <rect x={-4} y={-4} width={size + 8} height={size + 8} fill="#fff" />
      <path d={dark.join("")} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}

import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, take } from "@/api/client";
import { Problem, useAttempt } from "../attempt";

/** A transistor off a board, without a sheet: two readings fill the form of a new part. */
export function Donor({ onRead }: { onRead: (part: Record<string, unknown>) => void }) {
  const id = useId();
  const [given, setGiven] = useState<Record<string, string>>({});
  const { problem, attempt } = useAttempt();
  const asks = useQuery({ queryKey: ["donor"], queryFn: () => take(api.GET("/api/components/donor")) });
  const read = () =>
    attempt(async () => {
      const part = await take(api.POST("/api/components/donor", { body: { given } }));
      onRead({ ...part });
    });
  return (
    <details className="donor">
      <summary>Off a board, without a sheet …</summary>
      <p className="field-help">
        First the gate tied to the drain, and a milliampere through it: the volts are its threshold. Then the gate at
        the volts that you will really have, a few amperes through it for a moment, and the volts between its own legs.
        Let it hang free of the board, and put nothing on its gate by hand: a finger&rsquo;s charge breaks it.
      </p>
      <form
        className="part-form"
        onSubmit={(e) => {
          e.preventDefault();
          void read();
        }}
      >
        {(asks.data ?? []).map((ask) => (
          <div key={ask.key} className="field">
            <label htmlFor={`${id}-${ask.key}`}>{ask.label[0]?.toUpperCase() + ask.label.slice(1)}</label>
            <span className="field-box">
              <input
                id={`${id}-${ask.key}`}
                value={given[ask.key] ?? ask.default}
                placeholder={`${ask.example} ${ask.unit}`}
                autoComplete="off"
                maxLength={40}
                onChange={(e) => setGiven({ ...given, [ask.key]: e.target.value })}
              />
            </span>
          </div>
        ))}
        <Problem>{problem}</Problem>
        <Button type="submit" variant="outlined">
          Put them into the form
        </Button>
      </form>
    </details>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, take, type Answer, type SumView } from "@/api/client";

/** One of the quick sums: its givens in, its results with their formulas out. */
export function QuickSum({ sum, onBack }: { sum: SumView; onBack: () => void }) {
  const [given, setGiven] = useState<Record<string, string>>(() =>
    Object.fromEntries(sum.asks.map((a) => [a.key, a.default || a.example])),
  );
  const done = useQuery({
    queryKey: ["sum", sum.name, given],
    queryFn: () => take(api.POST("/api/sums/{name}", { params: { path: { name: sum.name } }, body: { given } })),
    placeholderData: (before: Answer | undefined) => before,
  });
  return (
    <div className="quick-sum">
      <h2>{sum.title}</h2>
      {sum.asks.map((a, i) => (
        <div key={a.key} className="field">
          <label htmlFor={`sum-${a.key}`}>{a.label}</label>
          {a.options.length > 0 ? (
            <select
              id={`sum-${a.key}`}
              className="field-choice"
              value={given[a.key]}
              onChange={(e) => setGiven({ ...given, [a.key]: e.target.value })}
            >
              {a.options.map((o) => (
                <option key={o}>{o}</option>
              ))}
            </select>
          ) : (
            <span className="field-box">
              <input
                id={`sum-${a.key}`}
                autoFocus={i === 0}
                value={given[a.key]}
                onChange={(e) => setGiven({ ...given, [a.key]: e.target.value })}
              />
              <i>{a.unit}</i>
            </span>
          )}
        </div>
      ))}
      {done.error ? (
        <p className="field-error" role="alert">
          {done.error.message}
        </p>
      ) : (
        <dl className="sum-results" aria-live="polite">
          {Object.entries(done.data?.results ?? {}).map(([key, r]) => (
            <div key={key}>
              <dt>{r.title}</dt>
              <dd>{r.formula}</dd>
              <dd className="field-help">{r.source}</dd>
            </div>
          ))}
        </dl>
      )}
      <button type="button" className="link" onClick={onBack}>
        Back to the list
      </button>
    </div>
  );
}

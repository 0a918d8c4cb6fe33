import type { FigureView } from "@/api/client";
import { memo } from "react";
import { useActions } from "@/draft/context";
import { AskedFor } from "./AskedFor";
import { Formula } from "./Symbol";

/** Computed figures, large; each opens its working. */
export const Figures = memo(function Figures({ figures }: { figures: FigureView[] }) {
  const { openWorking } = useActions();
  const known = figures.filter((f) => f.number !== "");
  const open = figures.filter((f) => f.number === "");
  return (
    <>
      <div className="figures">
        {known.map((f) => (
          <button
            type="button"
            key={f.id || f.title + f.case}
            className="figure"
            disabled={!f.id}
            onClick={() => openWorking(f.id)}
          >
            <span className="figure-title">{f.title}</span>
            <span className="figure-value">
              {f.number} <i>{f.unit}</i>
            </span>
            <span className="figure-foot">
              {[f.doubt, f.case].filter(Boolean).join(", ") || <Formula text={f.symbol} />}
            </span>
          </button>
        ))}
      </div>
      {open.length > 0 && (
        <dl className="unknown">
          {open.map((f) => (
            <div key={f.title + f.case}>
              <dt>{f.title}</dt>
              <dd>
                <AskedFor text={f.reason} gaps={f.gaps} />
              </dd>
            </div>
          ))}
        </dl>
      )}
    </>
  );
});

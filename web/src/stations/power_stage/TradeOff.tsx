import type { components } from "@/../generated/schema";
import { Slide } from "@/shared/Slide";
import { placed } from "./tradeOff";

type Design = components["schemas"]["DesignView"];

const [WIDTH, HEIGHT, LEFT, TOP, BOTTOM] = [560, 220, 52, 16, 40];

const named = (d: Design) => d.label || "between them";

/** What cannot be had together: each design at its price and heat, one of them picked by pointer or by keys. */
export function TradeOff({ designs, at, onPick }: { designs: Design[]; at: number; onPick: (at: number) => void }) {
  const { spots, prices, heats } = placed(designs, WIDTH - LEFT - 20, HEIGHT);
  const own = designs[at];
  return (
    <figure className="trade-off">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT + TOP + BOTTOM}`}
        role="img"
        aria-label={`${spots.length} designs by price and heat; ${own ? `picked: ${named(own)}, ${own.price}, ${own.heat}` : ""}`}
      >
        <g transform={`translate(${LEFT} ${TOP})`}>
          {heats.map((t) => (
            <g key={t.text} className="trade-tick">
              <line x1={0} x2={WIDTH - LEFT - 20} y1={t.at} y2={t.at} />
              <text x={-8} y={t.at + 4} textAnchor="end">
                {t.text}
              </text>
            </g>
          ))}
          {prices.map((t) => (
            <text key={t.text} className="trade-axis" x={t.at} y={HEIGHT + 18} textAnchor="middle">
              {t.text}
            </text>
          ))}
          <text className="trade-axis" x={(WIDTH - LEFT - 20) / 2} y={HEIGHT + 35} textAnchor="middle">
            price, €
          </text>
          <text className="trade-axis" x={-LEFT + 2} y={-4}>
            heat, W
          </text>
          {spots.map((s) => {
            const d = designs[s.index]!;
            const turned = s.x > WIDTH * 0.6;
            return (
              <g key={s.index} className={`trade-spot trade-${d.state}${s.index === at ? " trade-picked" : ""}`}>
                {/* The keys' way is the slider below: here it is the pointer's. */}

                <circle cx={s.x} cy={s.y} r={13} className="trade-reach" onClick={() => onPick(s.index)} />
                <circle cx={s.x} cy={s.y} r={s.index === at ? 8 : 5} />
                {d.label && (
                  <text x={turned ? s.x - 11 : s.x + 11} y={s.y - 7} textAnchor={turned ? "end" : "start"}>
                    {d.label}
                  </text>
                )}
              </g>
            );
          })}
        </g>
      </svg>
      <figcaption>
        <span className="trade-key trade-holds" /> every use below 80 % <span className="trade-key trade-tight" /> tight{" "}
        <span className="trade-key trade-beyond" /> beyond what is only warned of
      </figcaption>
      {designs.length > 1 && (
        <p className="read-off">
          <Slide
            label="Pick by price"
            min={0}
            max={designs.length - 1}
            value={at}
            onChange={onPick}
            text={own ? `${named(own)}: ${own.price}, ${own.heat}, tightest ${own.use_text}` : ""}
          />
        </p>
      )}
    </figure>
  );
}

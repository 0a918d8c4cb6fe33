import type { PictureOf } from "@/api/client";

type View = NonNullable<PictureOf<"signals">["timer"]>;

const LINE = "wire";
const BOX = { x: 250, y: 70, width: 130, height: 170 };
const PINS = [
  { name: "supply", x: 315, y: 70, dx: 0, dy: 20, side: "middle" },
  { name: "ground", x: 315, y: 240, dx: 0, dy: -10, side: "middle" },
  { name: "discharge", x: 250, y: 105, dx: 8, dy: 5, side: "start" },
  { name: "threshold", x: 250, y: 185, dx: 8, dy: 5, side: "start" },
  { name: "trigger", x: 250, y: 210, dx: 8, dy: 5, side: "start" },
  { name: "output", x: 380, y: 150, dx: -8, dy: 5, side: "end" },
] as const;

/** The timer circuit drawn to its values, and its output with the knob down, at work and up. */
export function TimerCircuit({ view }: { view: View }) {
  return (
    <figure className="strip timer-circuit">
      <figcaption>The timer circuit</figcaption>
      <svg className="drawing circuit-drawing" viewBox="0 0 520 300" role="img" aria-label={inWords(view)}>
        <path
          className={LINE}
          fill="none"
          d="M40 30H315V70M110 30V48M110 82V105H250M110 105V118M110 142V160H150M110 105H60V175M60 201V222M60 250V262H150M190 185H250M190 210H230V185M215 185V248M215 256V282M315 240V282M40 282H460M380 150H470"
        />
        <Resistor x={110} y={65} name={view.end_resistor} />
        <Diode x={110} y={130} />
        <Diode x={60} y={188} up />
        <Resistor x={60} y={236} name={view.end_resistor} />
        <g>
          <rect className="part" x={142} y={152} width={16} height={118} />
          <text x={166} y={232} className="num">
            {view.pot}
          </text>
          <path className={LINE} fill="none" d="M190 185H166M166 185l8 -5M166 185l8 5" />
          <text x={150} y={146} textAnchor="middle" className="faint">
            A
          </text>
          <text x={150} y={284} textAnchor="middle" className="faint" dy="-2">
            B
          </text>
        </g>
        <path className={LINE} d="M203 248H227M203 256H227" />
        <text x={234} y={262} className="num">
          {view.capacitor}
        </text>
        <rect className="part" {...BOX} />
        <text x={315} y={130} textAnchor="middle" className="strong">
          Timer
        </text>
        {PINS.map((p) => (
          <text key={p.name} x={p.x + p.dx} y={p.y + p.dy} textAnchor={p.side} className="faint">
            {p.name}
          </text>
        ))}
        <text x={46} y={22} className="num">
          {view.supply}
        </text>
        <text x={474} y={144} textAnchor="end" className="strong">
          to the driver
        </text>
        <text x={474} y={168} textAnchor="end" className="num">
          high: {view.level}
        </text>
      </svg>
      <p className="field-help">
        The capacitor charges through A and its diode and discharges through B and the other one: what the knob gives to
        one half it takes from the other, so the share changes and the pace does not. {view.frequency} as marked,{" "}
        {view.frequency_range} within the tolerances and the supply; duty from {view.duty_range}.
      </p>
      <Outputs view={view} />
    </figure>
  );
}

const TALL = 34;

function Outputs({ view }: { view: View }) {
  if (!view.period_us) return null;
  const period = 168;
  return (
    <svg
      className="drawing circuit-drawing"
      viewBox={`0 0 520 ${view.duties.length * TALL + 22}`}
      role="img"
      aria-label="The output over two periods, with the knob down, at work and up"
    >
      {view.duties.map((duty, row) => {
        const y = 6 + row * TALL;
        const one = `h${period * duty}v20h${period * (1 - duty)}v-20`;
        return (
          <g key={view.duty_names[row]}>
            <text x={0} y={y + 16}>
              {view.duty_names[row]}
            </text>
            <path className="wire" d={`M120 ${y}${one}${one}`} />
            <text x={516} y={y + 16} textAnchor="end" className="num faint">
              {(100 * duty).toFixed(duty > 0.1 ? 0 : 1)} %
            </text>
          </g>
        );
      })}
      <text x={120} y={view.duties.length * TALL + 16} className="num faint">
        two periods of {view.period_us.toPrecision(3)} µs
      </text>
    </svg>
  );
}

function Resistor({ x, y, name }: { x: number; y: number; name: string }) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <rect className="part" x={-7} y={-17} width={14} height={34} />
      <text x={12} y={5} className="num">
        {name}
      </text>
    </g>
  );
}

function Diode({ x, y, up = false }: { x: number; y: number; up?: boolean }) {
  return (
    <g transform={`translate(${x} ${y})${up ? " rotate(180)" : ""}`} className="small-diode">
      <path d="M-8 -9H8L0 7Z" />
      <path d="M-8 8H8" />
    </g>
  );
}

function inWords(view: View) {
  return (
    `A timer fed with ${view.supply}. From its supply ${view.end_resistor} lead to its discharge terminal; from there a ` +
    `diode leads to end A of a potentiometer of ${view.pot}, and from end B a diode and ${view.end_resistor} lead back. The ` +
    `wiper goes to a capacitor of ${view.capacitor} at threshold and trigger. The output goes to the driver.`
  );
}

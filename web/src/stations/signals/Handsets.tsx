import type { PictureOf } from "@/api/client";
import { Program } from "./Program";

type View = NonNullable<PictureOf<"signals">["radio"]>;
type Wire = View["board"][number];

/** The handsets that this controller hears: wires at both ends, and the program of each. */
export function Handsets({ view }: { view: View }) {
  return (
    <>
      {view.handsets.map((hand) => (
        <section key={hand.id} aria-label={hand.name}>
          <h3>{hand.name}</h3>
          {hand.wires.length > 0 ? (
            <Wires caption={`Wires of the handset, ${hand.of}`} wires={hand.wires} />
          ) : (
            <p className="field-help">Name its controller first: then its wires and its program stand here.</p>
          )}
          {hand.controller && <Program controller={hand.controller} title={`Program of ${hand.name}`} />}
        </section>
      ))}
      <section aria-label="At the board">
        <h3>At the board</h3>
        <Wires caption="Wires of the radio module here" wires={view.board} />
        <p className="field-help">
          A stop by radio is a stop in the program: it does not cut power, and a radio may fail. What can hurt somebody
          needs a switch within reach. The address keeps neighbours apart, not somebody who means harm. Local codes for
          radio come first.
        </p>
      </section>
    </>
  );
}

function Wires({ caption, wires }: { caption: string; wires: Wire[] }) {
  return (
    <div className="scroll">
      <table className="grid-table">
        <caption>{caption}</caption>
        <thead>
          <tr>
            <th scope="col">From</th>
            <th scope="col">To</th>
            <th scope="col">In between</th>
          </tr>
        </thead>
        <tbody>
          {wires.map((wire, i) => (
            <tr key={i}>
              <td>{wire.start}</td>
              <td>{wire.end}</td>
              <td>{wire.by}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

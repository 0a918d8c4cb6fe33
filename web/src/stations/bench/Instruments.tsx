import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useCallback, useEffect, useState } from "react";
import { api, take } from "@/api/client";
import { OneOf } from "@/shared/OneOf";
import { Problem, useAttempt } from "@/shared/attempt";
import { useDesk, type Instrument } from "./desk";
import { BoardCard, MeterCard, ScopeCard, SupplyCard } from "./InstrumentCards";
import "./instruments.css";

const OFF_KEY = "F9";

/** The instruments on the desk: opened by their addresses, and one key that turns all of them off. */
export function Instruments() {
  const { desk, mine, again } = useDesk();
  if (!mine) return null;
  return (
    <section className="instruments no-print" aria-label="Instruments">
      <h3>Instruments</h3>
      <OpenOne onOpened={() => void again()} />
      {desk.faults.map((f) => (
        <Problem key={f}>{f}</Problem>
      ))}
      {desk.instruments.length > 0 && <AllOff onDone={() => void again()} />}
      <div className="instrument-cards">
        {desk.instruments.map((x) => (
          <Card key={x.id} x={x} onChange={() => void again()} />
        ))}
      </div>
    </section>
  );
}

function OpenOne({ onOpened }: { onOpened: () => void }) {
  const [address, setAddress] = useState("");
  const [speaks, setSpeaks] = useState<"scpi" | "board">("scpi");
  const { problem, attempt } = useAttempt();
  const open = () =>
    attempt(async () => {
      await take(api.POST("/api/instruments/open", { body: { address, board: speaks === "board" } }));
      setAddress("");
      onOpened();
    });
  return (
    <form
      className="instrument-open"
      onSubmit={(e) => {
        e.preventDefault();
        if (address.trim()) void open();
      }}
    >
      <TextField
        size="small"
        label="Address"
        placeholder="TCPIP::192.168.1.20::5025::SOCKET"
        helperText="As its manual tells it; a serial port is ASRL…::INSTR. Nothing is searched for."
        value={address}
        onChange={(e) => setAddress(e.target.value)}
      />
      <OneOf
        label="It is"
        value={speaks}
        onChoose={setSpeaks}
        choices={[
          { key: "scpi", label: "An instrument" },
          { key: "board", label: "A motor board" },
        ]}
      />
      <Button type="submit" variant="outlined" size="small" disabled={!address.trim()}>
        Open
      </Button>
      <Problem>{problem}</Problem>
    </form>
  );
}

/** Everything off: by its button, or by its key from anywhere on this sheet. */
function AllOff({ onDone }: { onDone: () => void }) {
  const [said, setSaid] = useState<string[] | null>(null);
  const { problem, attempt } = useAttempt();
  const off = useCallback(
    () =>
      attempt(async () => {
        setSaid((await take(api.POST("/api/instruments/off"))).said);
        onDone();
      }),
    [attempt, onDone],
  );
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      if (e.key !== OFF_KEY) return;
      e.preventDefault();
      void off();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [off]);
  return (
    <p className="button-row">
      <Button variant="contained" color="error" onClick={() => void off()}>
        All off ({OFF_KEY})
      </Button>
      <span role="status">
        {said === null
          ? ""
          : said.length
            ? said.join(" ")
            : "Every output is told to be off, every board to be stopped."}
      </span>
      <Problem>{problem}</Problem>
    </p>
  );
}

const CARDS: Record<string, typeof SupplyCard> = {
  supply: SupplyCard,
  meter: MeterCard,
  oscilloscope: ScopeCard,
  "motor board": BoardCard,
};

function Card({ x, onChange }: { x: Instrument; onChange: () => void }) {
  const { problem, attempt } = useAttempt();
  const Body = CARDS[x.kind];
  const close = () =>
    attempt(async () => {
      const told = await take(api.POST("/api/instruments/{id}/close", { params: { path: { id: x.id } } }));
      onChange();
      if (told.said.length) throw new Error(told.said.join(" "));
    });
  return (
    <article className="instrument" aria-label={x.name}>
      <header>
        <b>{x.name}</b>
        <span className="wiring-note">{x.address}</span>
        <Button size="small" onClick={() => void close()}>
          Close
        </Button>
      </header>
      <Problem>{x.lost}</Problem>
      <Problem>{problem}</Problem>
      {!x.lost && Body && <Body x={x} onChange={onChange} />}
    </article>
  );
}

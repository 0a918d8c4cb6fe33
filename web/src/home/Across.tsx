import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, take, type Schemas } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { useOverview } from "./overview";
import "./home.css";

type Place = { build: string; build_name: string; drive: string; drive_name: string };

/** What the builds teach one another: motors that were measured, loops that were tuned, what failed. */
export function Across() {
  const found = useOverview();
  useEffect(() => {
    document.title = "Across builds: Zinc Whistle";
  }, []);
  return (
    <main className="home across">
      <header>
        <div>
          <h1>Across builds</h1>
          <p>
            <Link to="/">All builds</Link>
          </p>
        </div>
      </header>
      <Problem>{found.error?.message}</Problem>
      {found.data && <Tables found={found.data} />}
    </main>
  );
}

function Tables({ found }: { found: Schemas["Overview"] }) {
  return (
    <>
      <section aria-label="Motors">
        <h2>Motors</h2>
        {found.motors.length === 0 && <p>No build has a motor yet.</p>}
        <ul className="across-rows">
          {found.motors.map((m) => (
            <li key={m.build + m.drive}>
              <Where at={m} station="motor" />
              <span>
                {m.numbers.length ? m.numbers.join(" · ") : "not known yet"} <i>by {m.known_by}</i>
              </span>
              {m.numbers.length > 0 && <OntoShelf at={m} />}
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Loops">
        <h2>Loops that are closed</h2>
        {found.loops.length === 0 && <p>None yet.</p>}
        <ul className="across-rows">
          {found.loops.map((x) => (
            <li key={x.build + x.drive}>
              <Where at={x} station="loop" />
              <span>
                {x.gains.join(" · ")}{" "}
                <i>
                  {x.tuned ? "tuned on the bench" : "worked out or chosen"}
                  {x.stale && ", stale: something changed since"}
                </i>
              </span>
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Failures">
        <h2>What failed</h2>
        {found.failures.length === 0 && <p>Nothing is told in any log.</p>}
        <ul className="across-rows">
          {found.failures.map((f) => (
            <li key={f.build + f.at + f.text}>
              <Link to={`/b/${f.build}/log`}>{f.build_name}</Link>
              <span>
                {f.cause && <b>{f.cause}: </b>}
                {f.text}
                <i>
                  {" "}
                  {new Date(f.at).toLocaleDateString("en-GB", { dateStyle: "medium" })}
                  {f.open && ", something must still be undone"}
                </i>
              </span>
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

function Where({ at, station }: { at: Place; station: string }) {
  return (
    <Link to={`/b/${at.build}/${station}?drive=${encodeURIComponent(at.drive)}`}>
      {at.build_name}
      {at.drive_name !== at.drive && `, ${at.drive_name}`}
    </Link>
  );
}

/** Puts a motor on the shelf, from where any build takes it. */
function OntoShelf({ at }: { at: Place }) {
  const [done, setDone] = useState(false);
  const { problem, attempt } = useAttempt();
  const keep = () =>
    attempt(async () => {
      const { build } = await take(api.GET("/api/builds/{build_id}", { params: { path: { build_id: at.build } } }));
      const drive = build.drives?.find((d) => d.id === at.drive);
      if (drive?.kind !== "motor" || !drive.motor) throw new Error("This drive has no motor any more.");
      const named = drive.motor.name || `${at.drive_name} of ${at.build_name}`;
      await take(
        api.POST("/api/motors", { body: { name: named.slice(0, 80), motor: drive.motor, note: at.build_name } }),
      );
      setDone(true);
    });
  return (
    <span>
      {done ? (
        <span role="status">On the shelf: any build takes it at Motor.</span>
      ) : (
        <Button
          size="small"
          onClick={() => void keep()}
          aria-label={`Put ${at.build_name} ${at.drive_name} on the shelf`}
        >
          Onto the shelf
        </Button>
      )}
      <Problem>{problem}</Problem>
    </span>
  );
}

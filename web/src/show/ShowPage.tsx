import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { api, take, transfer, type Schemas } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { Circuit } from "@/shared/circuit/Circuit";
import { drawnText } from "@/shared/drawn";
import { saveBlob } from "@/shared/files";
import { Harness } from "@/shared/harness/Harness";
import { useLaid } from "@/shared/harness/layout";
import "./show.css";

type Page = Schemas["ShowView"];
const VERDICTS: Record<string, string> = { pass: "✓", fail: "✕ not right", doubtful: "? doubtful", open: "not judged" };

/** The drawings of the page as files: the circuit of each drive that has one, and the harness. */
function drawn(circuits: boolean[]) {
  const file = (name: string, svg: SVGSVGElement | null | undefined) =>
    svg ? [{ name, svg: drawnText(svg, svg.viewBox.baseVal) }] : [];
  const found = [...document.querySelectorAll<SVGSVGElement>(".show-drive .circuit > svg")];
  const numbers = circuits.flatMap((has, i) => (has ? [i + 1] : []));
  return [
    ...numbers.flatMap((n, i) => file(`circuit-${n}`, found[i])),
    ...file("harness", document.querySelector<SVGSVGElement>("svg#harness")),
  ];
}

/** A build on one page, for a club or a friend: on the screen, on paper, or as Markdown. */
export function ShowPage() {
  const { build = "" } = useParams();
  const path = { params: { path: { build_id: build } } };
  const asked = useQuery({
    queryKey: ["show", build],
    gcTime: 0,
    queryFn: () => take(api.GET("/api/builds/{build_id}/show", path)),
  });
  const { problem, attempt } = useAttempt();
  const give = () =>
    attempt(async () => {
      const response = await transfer(`/api/builds/${build}/show.zip`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ drawings: drawn(page?.drives.map((d) => Boolean(d.circuit)) ?? []) }),
      });
      saveBlob("build.zip", await response.blob());
    });
  const page = asked.data?.page;
  useEffect(() => {
    if (page) document.title = `${page.name}, a page to show: Zinc Whistle`;
  }, [page]);
  if (!page || !asked.data)
    return (
      <main className="loading">
        <p role={asked.error ? "alert" : "status"}>{asked.error?.message ?? "Putting the page together …"}</p>
        {asked.error && <Button href="/">All builds</Button>}
      </main>
    );
  return (
    <main className="show">
      <nav className="show-tools" aria-label="This page">
        <Link to={`/b/${build}/motor`}>Back to the build</Link>
        <Button size="small" onClick={() => window.print()}>
          Print
        </Button>
        <Button size="small" onClick={() => void give()}>
          Markdown, with its pictures
        </Button>
      </nav>
      <Problem>{problem}</Problem>
      <header>
        <h1>{page.name}</h1>
        <p>
          Board {page.issue}, {new Date().toLocaleDateString("en-GB", { dateStyle: "long" })}.
        </p>
        {page.note && <p className="show-note">{page.note}</p>}
      </header>
      {page.drives.map((d) => (
        <Drive key={d.name} drive={d} several={page.drives.length > 1} />
      ))}
      {page.harness && <Wired harness={page.harness} />}
      <section aria-label="How it stands">
        <h2>How it stands</h2>
        <p>{asked.data.stands}</p>
        <ul>
          {page.tight.map((t) => (
            <li key={t}>{t}</li>
          ))}
        </ul>
      </section>
      <Measured page={page} />
      <section aria-label="What it cost">
        <h2>What it cost</h2>
        <p>{asked.data.cost}</p>
      </section>
      {page.open.length > 0 && (
        <section aria-label="Still open">
          <h2>Still open</h2>
          <ul>
            {page.open.map((o) => (
              <li key={o}>{o}</li>
            ))}
          </ul>
        </section>
      )}
      {page.pictures.length > 0 && (
        <section aria-label="Pictures" className="show-pictures">
          {page.pictures.map((p) => (
            <figure key={p.id}>
              <img src={`/api/builds/${build}/files/${p.id}`} alt={p.says} />
              <figcaption>{p.says}</figcaption>
            </figure>
          ))}
        </section>
      )}
      <p className="show-caution">
        Worked out from what was given, and no test by somebody licensed: local codes go before it. Whoever builds it
        again measures it again.
      </p>
    </main>
  );
}

function Drive({ drive, several }: { drive: Page["drives"][number]; several: boolean }) {
  return (
    <section aria-label={drive.name}>
      {several && <h2>{drive.name}</h2>}
      <dl className="show-made">
        {drive.made_of.map((x) => (
          <div key={x.title}>
            <dt>{x.title}</dt>
            <dd>{x.text}</dd>
          </div>
        ))}
      </dl>
      <div className="show-drive">
        {drive.circuit && <Circuit circuit={drive.circuit} />}
        <dl className="show-decided">
          {drive.decided.map((x) => (
            <div key={x.title}>
              <dt>{x.title}</dt>
              <dd className="num">{x.text}</dd>
            </div>
          ))}
        </dl>
      </div>
    </section>
  );
}

function Wired({ harness }: { harness: NonNullable<Page["harness"]> }) {
  const laid = useLaid(harness);
  return (
    <section aria-label="Harness">
      <h2>How it is wired</h2>
      {laid && <Harness laid={laid} p={harness} hot="" onHot={() => undefined} />}
    </section>
  );
}

function Measured({ page }: { page: Page }) {
  const several = page.drives.length > 1;
  return (
    <section aria-label="Measured">
      <h2>What was measured</h2>
      {page.measured.length === 0 ? (
        <p>Nothing yet: all figures above are worked out.</p>
      ) : (
        <div className="scroll">
          <table className="grid-table">
            <thead>
              <tr>
                <th>What</th>
                <th>Read</th>
                <th>Expected then</th>
                <th>Verdict</th>
              </tr>
            </thead>
            <tbody>
              {page.measured.map((r) => (
                <tr key={r.title + r.drive}>
                  <td>
                    {r.title}
                    {several && `, ${r.drive}`}
                  </td>
                  <td>{r.text}</td>
                  <td>{r.expected}</td>
                  <td>
                    {VERDICTS[r.verdict] ?? r.verdict}
                    {r.stale && ", something changed since"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

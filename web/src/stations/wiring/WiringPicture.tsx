import useMediaQuery from "@mui/material/useMediaQuery";
import { useEffect, useState, type ReactNode } from "react";
import type { PictureProps } from "@/shared/picture";
import { Tabs } from "@/shared/Tabs";
import { Harness } from "./Harness";
import { layOut, type Laid, type Wiring } from "./layout";
import { Assembly, Bill, Continuity } from "./Lists";
import { PinTable } from "./PinTable";
import { WireTable } from "./WireTable";
import "./wiring.css";

function useLaid(p: Wiring): Laid | null {
  const [laid, setLaid] = useState<Laid | null>(null);
  const shape = JSON.stringify([p.parts, p.connections.map((c) => [c.id, c.fitted, c.colour])]);
  useEffect(() => {
    let late = false;
    void layOut(p).then((done) => {
      if (!late) setLaid(done);
    });
    return () => {
      late = true;
    };
    // The layout follows the harness's shape only; gauge or length do not move a block.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shape]);
  return laid;
}

/** The whole build's wiring: drawn, as a table, and as the lists that are worked off with iron and meter. */
export default function WiringPicture({ picture }: PictureProps) {
  const p = picture as Wiring;
  const laid = useLaid(p);
  const [hot, setHot] = useState("");
  const [at, setAt] = useState("harness");
  const printing = useMediaQuery("print");
  const drawing = laid ? <Harness laid={laid} p={p} hot={hot} onHot={setHot} /> : <div className="picture-wait" />;
  const wires = <WireTable p={p} hot={hot} onHot={setHot} everything={printing} />;
  const pages: { key: string; label: string; content: () => ReactNode }[] = [
    {
      key: "harness",
      label: "Harness",
      content: () => (
        <>
          {drawing}
          {wires}
        </>
      ),
    },
    { key: "pins", label: "Pins", content: () => <PinTable p={p} /> },
    { key: "assembly", label: "Assembly", content: () => <Assembly p={p} /> },
    { key: "continuity", label: "Continuity", content: () => <Continuity p={p} /> },
    { key: "bill", label: "Parts", content: () => <Bill p={p} /> },
  ];
  if (printing)
    return (
      <>
        {pages.map((page) => (
          <section key={page.key} className="print-page">
            <p className="print-head">
              {p.title}, board {p.issue}: {page.label.toLowerCase()}. Printed on {new Date().toLocaleDateString()}.
            </p>
            {page.content()}
          </section>
        ))}
      </>
    );
  return <Tabs pages={pages} at={at} onGo={setAt} />;
}

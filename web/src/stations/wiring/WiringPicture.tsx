import useMediaQuery from "@mui/material/useMediaQuery";
import { useState, type ReactNode } from "react";
import type { PictureOf } from "@/api/client";
import { Circuit } from "@/shared/circuit/Circuit";
import { Harness } from "@/shared/harness/Harness";
import { useLaid } from "@/shared/harness/layout";
import type { PictureProps } from "@/shared/picture";
import { Tabs } from "@/shared/Tabs";
import { Assembly } from "./Assembly";
import { Board } from "./Board";
import { Bill, Continuity } from "./Lists";
import { PinTable } from "./PinTable";
import { WireTable } from "./WireTable";

/** The whole build's wiring: drawn, as a table, and as the lists that are worked off with iron and meter. */
export default function WiringPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"wiring">;
  const laid = useLaid(p.harness);
  const [hot, setHot] = useState("");
  const [at, setAt] = useState("harness");
  const printing = useMediaQuery("print");
  const drawing = laid ? (
    <Harness laid={laid} p={p.harness} hot={hot} onHot={setHot} />
  ) : (
    <div className="picture-wait" />
  );
  const wires = <WireTable p={p} hot={hot} onHot={setHot} everything={printing} />;
  const pages: { key: string; label: string; content: () => ReactNode }[] = [
    {
      key: "harness",
      label: "Harness",
      content: () => (
        <>
          {drawing}
          {p.circuit && <Circuit circuit={p.circuit} />}
          {wires}
        </>
      ),
    },
    { key: "pins", label: "Pins", content: () => <PinTable p={p} /> },
    { key: "assembly", label: "Assembly", content: () => <Assembly p={p} /> },
    ...(p.boards.length ? [{ key: "board", label: "Board", content: () => <Board p={p} /> }] : []),
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

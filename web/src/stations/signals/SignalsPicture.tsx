import { useState } from "react";
import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { Panel } from "./Panel";
import { Program } from "./Program";
import { Pulses } from "./Pulses";
import { Simulation } from "./Simulation";
import { Tabs, type Page } from "./Tabs";
import { Timers } from "./Timers";
import "./signals.css";

/** Pulses, frequency and timers, the panel, runs in time, the program. */
export default function SignalsPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"signals">;
  const [at, setAt] = useState("pulses");
  const pages: Page[] = [
    { key: "pulses", label: "Pulses", content: () => <Pulses p={p} /> },
    { key: "timers", label: "Timers", content: () => <Timers p={p} /> },
    { key: "panel", label: "Panel", content: () => <Panel panel={p.panel} /> },
    ...(p.scenarios.length > 0
      ? [{ key: "time", label: "In time", content: () => <Simulation scenarios={p.scenarios} faults={p.faults} /> }]
      : []),
    { key: "program", label: "Program", content: () => <Program controller={p.controller} /> },
  ];
  return <Tabs pages={pages} at={at} onGo={setAt} />;
}

import { useState } from "react";
import type { PictureOf } from "@/api/client";
import type { PictureProps } from "@/shared/picture";
import { Handsets } from "./Handsets";
import { FrequencyWindow } from "./FrequencyWindow";
import { Panel } from "./Panel";
import { Program } from "./Program";
import { Pulses } from "./Pulses";
import { Sequences } from "./Sequences";
import { Simulation } from "./Simulation";
import { Tabs, type Page } from "@/shared/Tabs";
import { TimerCircuit } from "./TimerCircuit";
import { Timers } from "./Timers";
import "./signals.css";

/** Pulses, frequency and timers, the panel, runs in time, the program. */
export default function SignalsPicture({ picture }: PictureProps) {
  const p = picture as PictureOf<"signals">;
  const [at, setAt] = useState("");
  const timer = p.timer ?? null;
  const radio = p.radio ?? null;
  const programmed = p.told_by === "pulses" || p.told_by === "level";
  const pages: (Page | null)[] = [
    timer && { key: "circuit", label: "Circuit", content: () => <TimerCircuit view={timer} /> },
    {
      key: "pulses",
      label: p.told_by === "pulses" || timer ? "Pulses" : "On and off",
      content: () => <Pulses p={p} />,
    },
    p.told_by === "pulses" ? { key: "timers", label: "Timers", content: () => <Timers p={p} /> } : null,
    timer && { key: "window", label: "Frequency", content: () => <FrequencyWindow view={p.window} /> },
    programmed ? { key: "panel", label: "Panel", content: () => <Panel panel={p.panel} /> } : null,
    p.sequences.length > 0
      ? { key: "sequences", label: "Sequences", content: () => <Sequences sequences={p.sequences} /> }
      : null,
    radio && { key: "handsets", label: "Handsets", content: () => <Handsets view={radio} /> },
    p.scenarios.length > 0
      ? { key: "time", label: "In time", content: () => <Simulation scenarios={p.scenarios} faults={p.faults} /> }
      : null,
    programmed ? { key: "program", label: "Program", content: () => <Program controller={p.controller} /> } : null,
  ];
  return <Tabs pages={pages.filter((page) => page !== null)} at={at} onGo={setAt} />;
}

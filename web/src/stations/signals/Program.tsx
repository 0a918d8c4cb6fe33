import Button from "@mui/material/Button";
import { useState } from "react";
import { api, take, transfer } from "@/api/client";
import type { components } from "@/../generated/schema";
import { FilePicker } from "@/shared/FilePicker";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveBlob, saveFile } from "@/shared/files";
import { useShell } from "@/draft/context";

type View = components["schemas"]["ProgramView"];
const NAMES: Record<string, string> = { avr: "C for the 8-bit controller", micropython: "MicroPython" };

/** The controller's program: made from the design, read here, saved, and made anew around the builder's own parts. */
export function Program({ controller, title = "" }: { controller: string; title?: string }) {
  const { draft } = useShell();
  const { problem, attempt } = useAttempt();
  const [made, setMade] = useState<View | null>(null);
  const [mine, setMine] = useState("");
  const keep = () =>
    attempt(async () => {
      const body = JSON.stringify({ build: draft.draft, controller, edited: mine });
      const headers = { "content-type": "application/json" };
      const got = await transfer("/api/signals/board", { method: "POST", body, headers });
      saveBlob("board.zip", await got.blob());
    });
  const make = (edited = "") =>
    attempt(async () => {
      if (!draft.draft) return;
      setMine(edited);
      setMade(await take(api.POST("/api/signals/program", { body: { build: draft.draft, controller, edited } })));
    });
  return (
    <section className="program" aria-label={title || "Program"}>
      <h3>{title || "The program to upload"}</h3>
      <p className="field-help">
        {!title &&
          "All drives of this controller in one file: pulses, ramps, panel and serial port, with the design’s numbers and their reasons. "}
        What you write between the marks “yours” stays when you make it anew from your own file.
      </p>
      <p className="button-row">
        <Button variant="contained" size="small" onClick={() => void make()}>
          {made ? "Make it anew" : "Make the program"}
        </Button>
        {made?.source && (
          <Button size="small" variant="outlined" onClick={() => saveFile(made.file, made.source, "text/plain")}>
            Save {made.file}
          </Button>
        )}
        {made?.source && (
          <Button size="small" variant="outlined" onClick={() => void keep()}>
            Save all for the board
          </Button>
        )}
        <FilePicker
          size="small"
          label="Your own program file"
          accept=".c,.py,.txt"
          onPick={(file) => void file.text().then(make)}
        >
          Make it around my own file …
        </FilePicker>
      </p>
      <Problem>{problem}</Problem>
      {made && made.missing.length > 0 && (
        <div className="problem" role="alert">
          <p>Not yet:</p>
          <ul>
            {made.missing.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ul>
        </div>
      )}
      {made && made.kept.length > 0 && <p role="status">Taken over from your file: {made.kept.join("; ")}.</p>}
      {made && made.warnings.length > 0 && (
        <div className="problem" role="alert">
          <ul>
            {made.warnings.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </div>
      )}
      {made?.source && (
        <>
          <p role="status">
            {NAMES[made.language]}, {made.source.split("\n").length} lines.
          </p>
          <pre className="source" tabIndex={0} aria-label={`Source, ${made.file}`}>
            {made.source}
          </pre>
          <p className="field-help">
            A stop in the program does not cut power: what can hurt somebody needs a switch that does. The archive holds
            the source and how to compile and load it
            {title ? ", and what it sends." : ", the lines to type at its port, and its numbers."}
          </p>
        </>
      )}
    </section>
  );
}

import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { transfer, type Entry } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";

/** Sends a file to be kept with a build; the log comes back. */
export async function keepFile(build: string, kind: "capture" | "photo", file: Blob, name: string, says: string) {
  const asked = new URLSearchParams({ kind, name: name.slice(0, 120), says: says.slice(0, 5000) });
  const got = await transfer(`/api/files/${build}?${asked}`, {
    method: "POST",
    body: file,
    headers: { "content-type": "application/octet-stream" },
  });
  return (await got.json()) as Entry[];
}

/** Keeps a capture with the build, under its revision, with what it says. */
export function KeepFile({ file, name, says }: { file: Blob; name: string; says: string }) {
  const { draft } = useShell();
  const queries = useQueryClient();
  const { problem, attempt } = useAttempt();
  const [kept, setKept] = useState<Blob | null>(null);
  const keep = () =>
    attempt(async () => {
      queries.setQueryData(["log", draft.id], await keepFile(draft.id, "capture", file, name, says));
      setKept(file);
    });
  return (
    <p className="button-row">
      <Button size="small" variant="outlined" disabled={kept === file} onClick={() => void keep()}>
        Keep it with the build
      </Button>
      {kept === file && <span role="status">Kept: it is in the log.</span>}
      <Problem>{problem}</Problem>
    </p>
  );
}

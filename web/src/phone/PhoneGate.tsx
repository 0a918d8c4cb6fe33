import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import { api, take } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { ROLE_KEY, useRole } from "./role";
import "./phone.css";

/** The code in the address, as the square code carries it; it is taken out of the address at once. */
function codeInAddress(): string {
  const code = new URLSearchParams(location.hash.slice(1)).get("code") ?? "";
  if (code) history.replaceState(null, "", location.pathname + location.search);
  return code;
}
const scanned = codeInAddress();

/** Lets the machine's own page through as it is; a phone shows its code first. */
export function PhoneGate({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const { data, isPending } = useRole();
  if (isPending) return null;
  if (!data?.phone) return children;
  if (!data.let_in) return <Ask onJoined={() => void queries.invalidateQueries()} />;
  return (
    <>
      <p className="phone-note no-print">
        Phone at the bench: it reads, and enters readings, notes and pictures.{" "}
        <Button
          size="small"
          onClick={() =>
            void take(api.POST("/api/lan/leave")).then(() => queries.invalidateQueries({ queryKey: ROLE_KEY }))
          }
        >
          Leave
        </Button>
      </p>
      {children}
    </>
  );
}

function Ask({ onJoined }: { onJoined: () => void }) {
  const [code, setCode] = useState(scanned);
  const { problem, attempt } = useAttempt();
  const join = (with_: string) =>
    attempt(async () => {
      await take(api.POST("/api/lan/join", { body: { code: with_ } }));
      onJoined();
    });
  useEffect(() => {
    if (scanned) void join(scanned);
    // Once, with the code that came along.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <main className="phone-ask">
      <h1>Zinc Whistle</h1>
      <p>On the machine: “Build …”, “Phone at the bench …”. Scan the square there, or type its code.</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (code.trim()) void join(code);
        }}
      >
        <TextField label="Code" value={code} onChange={(e) => setCode(e.target.value)} autoComplete="off" fullWidth />
        <Button type="submit" variant="contained" disabled={!code.trim()}>
          Come in
        </Button>
      </form>
      <Problem>{problem}</Problem>
    </main>
  );
}

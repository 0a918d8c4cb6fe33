import Button from "@mui/material/Button";
import { api, take } from "@/api/client";
import { useShell } from "@/draft/context";
import { Problem, useAttempt } from "@/shared/attempt";

/** How far the work is, told and kept in the log where that is wanted. */
export function LogState({ state }: { state: string }) {
  const { draft, say } = useShell();
  const { problem, attempt } = useAttempt();
  const note = () =>
    attempt(async () => {
      const path = { build_id: draft.id };
      await take(api.POST("/api/builds/{build_id}/log", { params: { path }, body: { topic: "note", text: state } }));
      say("Noted in the log.");
    });
  return (
    <div className="table-head">
      <span className="wiring-note">{state}</span>
      <Button size="small" onClick={() => void note()}>
        Note this in the log
      </Button>
      <Problem>{problem}</Problem>
    </div>
  );
}

import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take } from "@/api/client";
import { age } from "@/draft/kept";
import type { DraftHandle } from "@/draft/useDraft";

/** What was typed and never acknowledged: offered again, or saved as a build of its own where its build is gone. */
export function KeptNotice({ draft }: { draft: DraftHandle }) {
  const navigate = useNavigate();
  const [problem, setProblem] = useState("");
  const { typed } = draft;

  const asNew = async () => {
    const body = typed?.body ?? draft.draft;
    if (!body) return;
    try {
      const made = await take(api.POST("/api/builds/import", { body }));
      draft.dropTyped();
      void navigate(`/b/${made.id}/motor`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };

  if (draft.save === "gone")
    return (
      <Alert
        severity="warning"
        className="kept-notice"
        action={<Button onClick={() => void asNew()}>Save it as a new build</Button>}
      >
        This build was deleted elsewhere. What you typed is kept in this browser. {problem}
      </Alert>
    );
  if (!typed) return null;
  const later = typed.version !== draft.version;
  return (
    <Alert
      severity="info"
      className="kept-notice"
      action={
        <>
          {later ? (
            <Button onClick={() => void asNew()}>Save it as a new build</Button>
          ) : (
            <Button onClick={draft.takeTyped}>Take it over</Button>
          )}
          <Button onClick={draft.dropTyped}>Forget it</Button>
        </>
      }
    >
      What was typed here {age(typed.at, Date.now())} was never saved
      {later ? ", and the build was saved since: it can become a build of its own." : "."} {problem}
    </Alert>
  );
}

import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import { useNavigate } from "react-router";
import type { DraftHandle } from "@/draft/useDraft";

/** Two tabs saved the same build: nothing is lost, and the builder says which one goes on. */
export function ConflictDialog({ draft }: { draft: DraftHandle }) {
  const navigate = useNavigate();
  const conflict = draft.conflict;
  if (!conflict) return null;
  return (
    <Dialog open aria-labelledby="conflict-title">
      <div className="dialog">
        <h2 id="conflict-title">Another tab saved this build first</h2>
        <p>
          {conflict.detail} It is called “{conflict.siblingName}”, and stands in the list of builds.
        </p>
        <div className="dialog-foot">
          <Button variant="contained" autoFocus onClick={draft.goOn}>
            Go on with what is saved
          </Button>
          <Button
            onClick={() => {
              draft.clearConflict();
              void navigate(`/b/${conflict.siblingId}/motor`);
            }}
          >
            Open what I typed
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useColorScheme } from "@mui/material/styles";
import TextField from "@mui/material/TextField";
import { PhoneDialog } from "@/phone/PhoneDialog";
import { Comparison, type ComparisonView } from "./Comparison";
import { TakeFrom } from "./TakeFrom";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, take } from "@/api/client";
import { saveFile } from "@/shared/files";
import { useShell } from "@/draft/context";

/** What can be done with the whole build. */
export function SheetMenu({ onWords, onTour }: { onWords: () => void; onTour: () => void }) {
  const { draft, say } = useShell();
  const navigate = useNavigate();
  const { mode, setMode } = useColorScheme();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [panel, setPanel] = useState<"" | "cut" | "revisions" | "phone" | "take">("");
  const path = { params: { path: { build_id: draft.id } } };
  const doing = (act: () => Promise<void>) => () => {
    setAnchor(null);
    act().catch((error: Error) => say(error.message));
  };
  const exportFile = doing(async () => {
    await draft.write();
    const build = await take(api.GET("/api/builds/{build_id}/export", path));
    saveFile(`${build.name ?? "build"}.json`, JSON.stringify(build, null, 1));
  });
  const show = doing(async () => {
    await draft.write();
    void navigate(`/b/${draft.id}/show`);
  });
  const duplicate = doing(async () => {
    await draft.write();
    const made = await take(api.POST("/api/builds/{build_id}/duplicate", path));
    void navigate(`/b/${made.id}/motor`);
  });
  return (
    <>
      <Button size="small" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        Build …
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setPanel("cut");
          }}
        >
          Keep a revision …
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setPanel("revisions");
          }}
        >
          Revisions, take one back …
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setPanel("take");
          }}
        >
          Take from another build …
        </MenuItem>
        <MenuItem onClick={show}>A page to show</MenuItem>
        <MenuItem onClick={exportFile}>Export the build file</MenuItem>
        <MenuItem onClick={duplicate}>Duplicate the build</MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setMode(mode === "dark" ? "light" : "dark");
          }}
        >
          {mode === "dark" ? "Light" : "Dark"} colours
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setPanel("phone");
          }}
        >
          Phone at the bench …
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            onWords();
          }}
        >
          Words on this sheet …
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            onTour();
          }}
        >
          Tour in six steps
        </MenuItem>
        <MenuItem onClick={() => void navigate("/")}>All builds</MenuItem>
      </Menu>
      {panel === "cut" && <CutRevision onClose={() => setPanel("")} />}
      {panel === "take" && <TakeFrom onClose={() => setPanel("")} />}
      {panel === "phone" && <PhoneDialog onClose={() => setPanel("")} />}
      {panel === "revisions" && <Revisions onClose={() => setPanel("")} />}
    </>
  );
}

function CutRevision({ onClose }: { onClose: () => void }) {
  const { draft, say } = useShell();
  const [reason, setReason] = useState("");
  const cut = async () => {
    try {
      await draft.write();
      const made = await take(
        api.POST("/api/builds/{build_id}/revisions", { params: { path: { build_id: draft.id } }, body: { reason } }),
      );
      say(`Revision ${made.number} is kept.`);
      onClose();
    } catch (error) {
      say((error as Error).message);
    }
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="cut-title" fullWidth maxWidth="xs">
      <form
        className="dialog"
        onSubmit={(e) => {
          e.preventDefault();
          void cut();
        }}
      >
        <h2 id="cut-title">Keep a revision</h2>
        <TextField
          autoFocus
          fullWidth
          variant="standard"
          label="Why"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        <div className="dialog-foot">
          <Button type="submit" variant="contained">
            Keep it
          </Button>
          <Button onClick={onClose}>Not now</Button>
        </div>
      </form>
    </Dialog>
  );
}

function Revisions({ onClose }: { onClose: () => void }) {
  const { draft, say } = useShell();
  const path = { build_id: draft.id };
  const list = useQuery({
    queryKey: ["revisions", draft.id],
    queryFn: () => take(api.GET("/api/builds/{build_id}/revisions", { params: { path } })),
  });
  const [found, setFound] = useState<{ number: number; view: ComparisonView } | null>(null);
  const differ = async (number: number) => {
    try {
      const build = draft.draft;
      const body = { build };
      const asked = api.POST("/api/builds/{build_id}/revisions/{number}/compare", {
        params: { path: { ...path, number } },
        body,
      });
      setFound({ number, view: await take(asked) });
    } catch (error) {
      say((error as Error).message);
    }
  };
  const back = async (number: number) => {
    try {
      await draft.write();
      await take(
        api.POST("/api/builds/{build_id}/revisions/{number}/restore", { params: { path: { ...path, number } } }),
      );
      await draft.load();
      say(`Revision ${number} is back. What stood before is kept as a revision too.`);
      onClose();
    } catch (error) {
      say((error as Error).message);
    }
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="revisions-title" fullWidth maxWidth="md">
      <div className="dialog">
        <h2 id="revisions-title">Revisions</h2>
        {list.data?.length === 0 && (
          <p>No revision yet. One is kept when you ask for it, and before a reading is taken.</p>
        )}
        <ul className="plain-list">
          {list.data?.map((r) => (
            <li key={r.id}>
              <span>
                <b>{r.number}</b> {r.reason} <small>{new Date(r.created_at).toLocaleString("en-GB")}</small>
              </span>
              <Button
                size="small"
                onClick={() => void differ(r.number)}
                aria-label={`What differs from revision ${r.number}`}
              >
                What differs
              </Button>
              <Button size="small" onClick={() => void back(r.number)} aria-label={`Take back revision ${r.number}`}>
                Take back
              </Button>
            </li>
          ))}
        </ul>
        {found && <Comparison title={`From revision ${found.number} to now`} view={found.view} />}
        <div className="dialog-foot">
          <Button autoFocus onClick={onClose}>
            Close
          </Button>
        </div>
      </div>
    </Dialog>
  );
}

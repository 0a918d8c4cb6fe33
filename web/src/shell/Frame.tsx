import Button from "@mui/material/Button";
import Drawer from "@mui/material/Drawer";
import Snackbar from "@mui/material/Snackbar";
import useMediaQuery from "@mui/material/useMediaQuery";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { CommandBox } from "./CommandBox";
import { ConflictDialog } from "./ConflictDialog";
import { ActionsContext, DraftContext } from "@/draft/context";
import { JobCard } from "./JobCard";
import { KeyHelp } from "./KeyHelp";
import { useKeys } from "./keys";
import { SheetView } from "./SheetView";
import { SkipLink } from "./SkipLink";
import { TightSpots } from "./TightSpots";
import { STEPS, Tour } from "./Tour";
import { TryBar } from "./TryBar";
import { useDraft } from "@/draft/useDraft";
import { useTour } from "./useTour";
import { savedWords } from "@/draft/savedWords";
import { KeptNotice } from "./KeptNotice";
import { OfferNotice } from "./OfferNotice";
import { WordList } from "./WordList";
import { Working } from "./Working";
import "./shell.css";
import "./checks.css";

/** One build, open: job card, sheet, tight spots. */
export function Frame() {
  const { build = "", station = "motor" } = useParams();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const draft = useDraft(build, station, query.get("drive") ?? "");
  const [opened, setOpened] = useState({ figure: "", station: "" });
  const [finding, setFinding] = useState(false);
  const [help, setHelp] = useState(false);
  const [spots, setSpots] = useState(true);
  const [said, setSaid] = useState("");
  const tour = useTour(STEPS.length);
  const [words, setWords] = useState(false);
  const [beside, setBeside] = useState(false);
  const [focus, setFocus] = useState("");
  const wide = useMediaQuery("(min-width: 1180px)", { noSsr: true });
  const narrow = useMediaQuery("(max-width: 760px)", { noSsr: true });
  const [spotsDrawer, setSpotsDrawer] = useState(false);
  const reply = draft.reply;
  const drive = reply?.drive ?? "";
  // While the reply for another drive is on its way, keys and links already mean that one.
  const headed = useCallback(() => {
    const asked = new URLSearchParams(window.location.search).get("drive") ?? "";
    return reply?.drives.some((d) => d.id === asked) ? asked : drive;
  }, [drive, reply]);

  // A working belongs to the station that it was opened for: going elsewhere folds it.
  const working = opened.station === station ? opened.figure : "";
  const setWorking = useCallback((figure: string, at = station) => setOpened({ figure, station: at }), [station]);

  const goTo = useCallback(
    (to: string, path = "", other = headed()) => {
      setSpotsDrawer(false);
      setFocus(path);
      if (to !== station || other !== headed()) void navigate(`/b/${build}/${to}${other ? `?drive=${other}` : ""}`);
    },
    [build, headed, navigate, station],
  );

  useEffect(() => {
    document.title = reply ? `${reply.sheet.title}, ${reply.name}: Zinc Whistle` : "Zinc Whistle";
  }, [reply]);

  // A drive that does not pass this station shows its first one instead.
  useEffect(() => {
    const known = station === "build" || reply?.stamps.some((s) => s.station === station);
    const mine = !query.get("drive") || reply?.drive === query.get("drive");
    if (reply && mine && !known && reply.sheet.station !== station)
      void navigate(`/b/${build}/${reply.sheet.station}?drive=${reply.drive}`, { replace: true });
  }, [build, navigate, query, reply, station]);

  // What a change takes the ground from is told at once, while undo still takes it back.
  const trying = draft.trial !== null;
  const stood = useRef<{ build: string; stale: string[] } | null>(null);
  useEffect(() => {
    if (!reply || !build) return;
    const before = stood.current?.build === build ? stood.current.stale : reply.stale;
    const fresh = reply.stale.filter((s) => !before.includes(s));
    stood.current = { build, stale: reply.stale };
    // While something is tried, both stand side by side: a message would only stand before them.
    if (fresh.length > 0 && !trying)
      setSaid(
        `This makes stale: ${fresh.slice(0, 3).join(", ")}${fresh.length > 3 ? ` and ${fresh.length - 3} more` : ""}. Undo takes it back.`,
      );
  }, [reply, build, trying]);

  useEffect(() => {
    if (draft.merges === 0) return;
    // What this makes stale is the other tab's doing, and no undo of this one takes it back.
    stood.current = null;
    setSaid("What another tab changed meanwhile was taken in beside what you typed.");
  }, [draft.merges]);

  // A field asked for from elsewhere gets the focus once its sheet is there.
  useEffect(() => {
    if (!focus || reply?.sheet.station !== station) return;
    const spot = document.querySelector<HTMLElement>(`[data-path="${CSS.escape(focus)}"]`);
    if (!spot) return;
    const fold = spot.closest("details");
    if (fold) fold.open = true;
    spot.scrollIntoView({ block: "center" });
    // The value itself before the mark of where it came from.
    const own = spot.querySelector<HTMLElement>("input, select") ?? spot.querySelector<HTMLElement>("button");
    (own ?? spot).focus();
    setFocus("");
  }, [focus, reply, station]);

  const act = useCallback(
    (key: string) => {
      const keys = reply?.keys ?? {};
      const name = Object.keys(keys).find((s) => keys[s] === key);
      const found = reply?.stamps.find((s) => s.station === name);
      const coming = name !== undefined && headed() !== drive;
      if (found) goTo(found.station);
      else if (coming) goTo(name);
      else if (key === "b") goTo("build");
      else if (key === "[" || key === "]") {
        const ids = reply?.drives.map((d) => d.id) ?? [];
        const next = ids[ids.indexOf(headed()) + (key === "]" ? 1 : -1)];
        if (!next) return false;
        goTo(station, "", next);
      } else if (key === "w") setWorking(working ? "" : (reply?.sheet.figures.find((f) => f.id)?.id ?? ""));
      else if (key === "t") (wide ? setSpots : setSpotsDrawer)((on) => !on);
      else if (key === "e") setWords(true);
      else if (key === "ctrl-k") setFinding(true);
      else if (key === "ctrl-z") draft.undo();
      else if (key === "ctrl-y") draft.redo();
      else if (key === "?") setHelp(true);
      else if (key === "Escape" && working) setWorking("");
      else return false;
      return true;
    },
    [draft, drive, goTo, headed, reply, setWorking, station, wide, working],
  );
  useKeys(act);

  const actions = useMemo(
    () => ({ drive, openWorking: setWorking, goTo, say: setSaid, showTries: () => setBeside(true) }),
    [drive, goTo, setWorking],
  );
  const opening = useMemo(
    () => (working ? <Working figure={working} onClose={() => setWorking("")} /> : null),
    [setWorking, working],
  );
  const toDrive = useCallback((id: string) => setQuery({ drive: id }), [setQuery]);

  if (!reply || !draft.draft) {
    return (
      <main className="loading">
        <p role={draft.problem ? "alert" : "status"}>{draft.problem || "Opening the build …"}</p>
        {draft.problem && <Button href="/">All builds</Button>}
      </main>
    );
  }
  const current = reply.sheet.station === station;
  return (
    <ActionsContext value={actions}>
      <DraftContext value={draft}>
        <SkipLink />
        <div className={`frame${spots && wide ? "" : " frame-folded"}`}>
          {narrow ? null : (
            <JobCard
              id={build}
              reply={reply}
              drive={drive}
              station={station}
              saved={savedWords(draft)}
              onDrive={toDrive}
            />
          )}
          <main className="sheet" aria-busy={!current}>
            {narrow && (
              <div className="phone-bar">
                <h1 className="unseen">{reply.name}</h1>
                <label className="unseen" htmlFor="station-choice">
                  Station
                </label>
                <select id="station-choice" value={station} onChange={(e) => goTo(e.target.value)}>
                  <option value="build">b Build</option>
                  {reply.stamps.map((s) => (
                    <option key={s.station} value={s.station}>
                      {`${s.key} ${s.title}${s.station === "log" ? "" : `: ${s.state === "tight" ? s.text : s.state}`}`}
                    </option>
                  ))}
                </select>
                <span role="status">{savedWords(draft)}</span>
                <Button href="/" size="small">
                  All builds
                </Button>
              </div>
            )}
            <KeptNotice draft={draft} />
            <OfferNotice />
            <TryBar draft={draft} open={beside} onOpen={setBeside} />
            <SheetView
              reply={reply}
              station={station}
              onSpots={wide ? () => setSpots((on) => !on) : () => setSpotsDrawer(true)}
              onFind={() => setFinding(true)}
              onWords={() => setWords(true)}
              onTour={() => {
                const step = STEPS[tour.open()];
                if (step) goTo(step.station);
              }}
              working={opening}
            />
          </main>
          {spots && wide && <TightSpots reply={reply} />}
        </div>
        <Drawer anchor="right" open={spotsDrawer && !wide} onClose={() => setSpotsDrawer(false)}>
          <TightSpots reply={reply} />
        </Drawer>
        {finding && <CommandBox reply={reply} onClose={() => setFinding(false)} />}
        {tour.shown && <Tour at={tour.at} onAt={tour.go} onLeave={tour.leave} />}
        {words && <WordList reply={reply} onClose={() => setWords(false)} />}
        {help && <KeyHelp onClose={() => setHelp(false)} />}
        <ConflictDialog draft={draft} />
        <Snackbar open={said !== ""} autoHideDuration={6000} onClose={() => setSaid("")} message={said} />
      </DraftContext>
    </ActionsContext>
  );
}

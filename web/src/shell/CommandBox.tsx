import Autocomplete from "@mui/material/Autocomplete";
import Dialog from "@mui/material/Dialog";
import InputBase from "@mui/material/InputBase";
import type { PopperProps } from "@mui/material/Popper";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useMemo, useState } from "react";
import { api, take, type Reply, type SumView } from "@/api/client";
import { useShell } from "@/draft/context";
import { useWords } from "@/shared/Explain";
import type { Word } from "@/shared/words";
import { Explained } from "./Explained";
import { QuickSum } from "./QuickSum";

type Hit = { key: string; title: string; place: string; also?: string; act: () => void };

const ASK = "Find a station, field, part, finding, word or quick sum";

/** Finds stations, fields and figures of all of them, parts, findings, words and the quick sums. */
export function CommandBox({ reply, onClose }: { reply: Reply; onClose: () => void }) {
  const { goTo, openWorking, draft } = useShell();
  const [word, setWord] = useState<Word | null>(null);
  const [text, setText] = useState("");
  const [sum, setSum] = useState<SumView | null>(null);
  const sums = useQuery({ queryKey: ["sums"], queryFn: () => take(api.GET("/api/sums")) });
  const parts = useQuery({ queryKey: ["parts"], queryFn: () => take(api.GET("/api/parts")) });
  const words = useWords();
  // Of every station and drive; until they are there, those of the station that is open.
  const places = useQuery({
    queryKey: ["find", draft.draft],
    gcTime: 0,
    queryFn: () => take(api.POST("/api/find", { body: { build: draft.draft as never } })),
  });

  const hits = useMemo(() => {
    const leave = (act: () => void) => () => {
      onClose();
      act();
    };
    const own = new Set(reply.sheet.figures.map((f) => f.id));
    const all: Hit[] = [
      { key: "build", title: "Build", place: "station", act: leave(() => goTo("build")) },
      ...reply.stamps.map((s) => ({
        key: s.station,
        title: s.title,
        place: "station",
        act: leave(() => goTo(s.station)),
      })),
      ...(sums.data ?? []).map((s) => ({ key: s.name, title: s.title, place: "quick sum", act: () => setSum(s) })),
      ...(places.data
        ? []
        : reply.sheet.sections.flatMap((s) =>
            s.fields.map((f) => ({
              key: f.path,
              title: f.label,
              place: `field, ${reply.sheet.title}`,
              act: leave(() => goTo(reply.sheet.station, f.path)),
            })),
          )),
      ...(places.data ?? [])
        .filter((p) => p.kind === "field")
        .map((p) => ({
          key: p.drive + p.key,
          title: p.title,
          place: `field, ${p.place}`,
          act: leave(() => goTo(p.station, p.key, p.drive || undefined)),
        })),
      ...reply.spots.map((f) => ({
        key: f.key,
        title: f.title,
        place: `check, ${f.use_text || f.state}`,
        act: leave(() => {
          goTo(f.station, f.where, f.drive);
          if (f.figure) openWorking(f.figure, f.station);
        }),
      })),
      ...reply.sheet.figures
        .filter((f) => f.id)
        .map((f) => ({ key: f.id, title: f.title, place: "figure", act: leave(() => openWorking(f.id)) })),
      ...words.map((w) => ({
        key: w.term,
        title: w.term,
        also: w.also.join(" "),
        place: "word",
        act: () => setWord(w),
      })),
      ...(places.data ?? [])
        .filter((p) => p.kind === "figure" && !own.has(p.key))
        .map((p) => ({
          key: p.drive + p.key,
          title: p.title,
          place: `figure, ${p.place}`,
          act: leave(() => {
            goTo(p.station, "", p.drive || undefined);
            openWorking(p.key, p.station);
          }),
        })),
      ...(parts.data ?? []).map((p) => ({
        key: p.id,
        title: p.name ?? p.id,
        place: "part",
        act: leave(() => goTo("driver", `part:${p.id}`)),
      })),
    ];
    const typed = text.trim().toLowerCase();
    const parted = typed.split(/\s+/).filter(Boolean);
    const met = all.filter((h) =>
      parted.every((w) => `${h.title} ${h.place} ${h.also ?? ""}`.toLowerCase().includes(w)),
    );
    // What is called so stands before what only holds the words.
    const far = (h: Hit) => (h.title.toLowerCase() === typed ? 0 : h.title.toLowerCase().startsWith(typed) ? 1 : 2);
    return met.sort((a, b) => far(a) - far(b)).slice(0, 14);
  }, [text, reply, sums.data, parts.data, words, places.data, goTo, openWorking, onClose]);

  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      slotProps={{ paper: { className: "command", "aria-label": "Find" } }}
    >
      {sum ? (
        <QuickSum sum={sum} onBack={() => setSum(null)} />
      ) : word ? (
        <Explained
          word={word}
          title={reply.stamps.find((s) => s.station === word.station)?.title ?? ""}
          onGo={() => {
            onClose();
            goTo(word.station);
          }}
          onBack={() => setWord(null)}
        />
      ) : (
        <>
          <Autocomplete
            open
            autoHighlight
            fullWidth
            disablePortal
            options={hits}
            // The list is what was found already: every word of the text, in title or place.
            filterOptions={(found) => found}
            getOptionLabel={(h) => h.title}
            getOptionKey={(h) => h.place + h.key}
            value={null}
            inputValue={text}
            onInputChange={(_, typed, why) => why === "input" && setText(typed)}
            onChange={(_, hit) => hit?.act()}
            onClose={(_, why) => why === "escape" && onClose()}
            noOptionsText="Nothing by that name."
            forcePopupIcon={false}
            slots={{ popper: InPlace, paper: Fragment }}
            slotProps={{ listbox: { className: "hits", "aria-label": "Found" } }}
            renderOption={({ key, ...props }, h) => (
              <li key={key} {...props}>
                <span>{h.title}</span> <small>{h.place}</small>
              </li>
            )}
            renderInput={({ slotProps, id }) => (
              <InputBase
                id={id}
                autoFocus
                fullWidth
                className="command-input"
                placeholder={ASK}
                ref={slotProps.input.ref}
                slotProps={{
                  input: { ...slotProps.htmlInput, "aria-label": ASK },
                }}
              />
            )}
          />
        </>
      )}
    </Dialog>
  );
}

/** The list stands in the dialog, below what is typed; it floats over nothing. */
function InPlace({ children }: PopperProps) {
  return <div>{typeof children === "function" ? null : children}</div>;
}

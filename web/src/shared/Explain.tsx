import Tooltip from "@mui/material/Tooltip";
import { useQuery } from "@tanstack/react-query";
import { memo, useMemo, useState } from "react";
import { api, take } from "@/api/client";
import { namesOf, piecesOf, type Word } from "./words";
import "./explain.css";

const NONE: Word[] = [];

/** The trade's words and ours. */
export function useWords(): Word[] {
  const asked = useQuery({ queryKey: ["words"], staleTime: Infinity, queryFn: () => take(api.GET("/api/words")) });
  return asked.data ?? NONE;
}

/** A sentence in which the trade's words are explained where they stand: pointed at, or tapped. */
export const Explain = memo(function Explain({ text }: { text: string }) {
  const words = useWords();
  const names = useMemo(() => namesOf(words), [words]);
  return piecesOf(text, names).map((p, i) => (p.word ? <Marked key={i} text={p.text} word={p.word} /> : p.text));
});

/* By keys all words of a sheet are listed at once (e): a stop at each of them would stand in the way of the fields. */
function Marked({ text, word }: { text: string; word: Word }) {
  const [open, setOpen] = useState(false);
  return (
    <Tooltip
      open={open}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      disableTouchListener
      describeChild
      slotProps={{ tooltip: { className: "word-tip" } }}
      title={
        <>
          <b>{word.term}</b>: {word.says}
        </>
      }
    >
      <button type="button" className="word" tabIndex={-1} onClick={() => setOpen((on) => !on)}>
        {text}
      </button>
    </Tooltip>
  );
}

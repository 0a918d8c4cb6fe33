import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { useAttempt } from "./attempt";

type Work = components["schemas"]["WorkView"];
/** What a request that takes long is sent with: so it can be stopped, and asked after. */
export type How = { signal: AbortSignal; headers: Record<string, string> };
const LOOK_EVERY_MS = 400;

/** Work that takes seconds: one at a time, stopped by its button or by leaving, its refusal kept as a sentence. */
export function useLongWork() {
  const [ticket, setTicket] = useState("");
  const { problem, attempt } = useAttempt();
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);
  const work = useCallback(
    async (act: (how: How) => Promise<void>) => {
      const { signal } = (abort.current = new AbortController());
      const own = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`;
      setTicket(own);
      await attempt(() =>
        act({ signal, headers: { "x-ticket": own } }).catch((error: unknown) => {
          if (!signal.aborted) throw error;
        }),
      );
      setTicket("");
    },
    [attempt],
  );
  const stop = useCallback(() => abort.current?.abort(), []);
  return { ticket, busy: ticket !== "", problem, work, stop };
}

/** How far a piece of work is, and the button that stops it. */
export function Progress({ ticket, words, onStop }: { ticket: string; words: string; onStop: () => void }) {
  const { data } = useQuery({
    queryKey: ["work", ticket],
    queryFn: () => take(api.GET("/api/progress/{ticket}", { params: { path: { ticket } } })),
    enabled: ticket !== "",
    refetchInterval: LOOK_EVERY_MS,
    initialData: null,
    retry: false,
  });
  if (!ticket) return null;
  return (
    <>
      <span role="status">
        {words} {data ? told(data) : ""}
      </span>
      <Button size="small" onClick={onStop}>
        Stop
      </Button>
    </>
  );
}

/** How far it is, in words. */
export function told(work: Work): string {
  if (!work.known) return "";
  if (work.before > 0) return work.before === 1 ? "waits for one other" : `waits for ${work.before} others`;
  const seconds = work.seconds < 1 ? "" : `${Math.round(work.seconds)} s`;
  return [work.share === null ? "" : `${Math.round(100 * work.share)} %`, seconds].filter(Boolean).join(", ");
}

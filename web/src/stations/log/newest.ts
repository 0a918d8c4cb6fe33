import { queryOptions } from "@tanstack/react-query";
import { api, take } from "@/api/client";

/** A log of years is told and drawn a piece at a time. */
export const SHOWN_FIRST = 50;

/** The newest of a build's log: on the screen while the rest of a long one is still under way. */
export const newestOf = (build: string) =>
  queryOptions({
    queryKey: ["log newest", build],
    gcTime: 10_000,
    queryFn: () =>
      take(
        api.GET("/api/builds/{build_id}/log", {
          params: { path: { build_id: build }, query: { newest: SHOWN_FIRST } },
        }),
      ),
  });

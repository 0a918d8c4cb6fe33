import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "@/api/client";
import { useRole } from "@/phone/role";
import type { components } from "@/../generated/schema";

export type Instrument = components["schemas"]["InstrumentView"];
export type Desk = components["schemas"]["DeskView"];
const KEY = ["desk"];
const EMPTY: Desk = { instruments: [], faults: [] };

/** The instruments that are open in this service. */
export function useDesk() {
  const { data: role } = useRole();
  // A phone never drives an instrument, so it does not ask for them.
  const mine = role?.phone === false;
  const { data } = useQuery({
    queryKey: KEY,
    queryFn: () => take(api.GET("/api/instruments")),
    initialData: EMPTY,
    enabled: mine,
  });
  const queries = useQueryClient();
  return { desk: data, mine, again: () => queries.invalidateQueries({ queryKey: KEY }) };
}

/** What an instrument reads now. */
export const readOf = (id: string, what: string) =>
  take(api.POST("/api/instruments/{id}/read", { params: { path: { id } }, body: { what } }));

/** A line to a motor board, and its answer. */
export async function sayTo(id: string, line: string): Promise<string> {
  const told = await take(api.POST("/api/instruments/{id}/say", { params: { path: { id } }, body: { line } }));
  return told.said.join(" ");
}

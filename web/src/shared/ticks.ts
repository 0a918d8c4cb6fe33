import { useShell } from "@/draft/context";
import { getAt } from "@/draft/paths";

/** What is ticked as made in this build: wires, steps and probes, by their ids. */
export function useTicks() {
  const { draft } = useShell();
  const made = (getAt(draft.draft, "made") as string[] | undefined) ?? [];
  const has = new Set(made);
  return {
    has: (id: string) => has.has(id),
    tick: (ids: string[], on: boolean) =>
      draft.editAt(on ? "Ticked as made" : "Tick taken away", "made", () =>
        on ? [...new Set([...made, ...ids])] : made.filter((x) => !ids.includes(x)),
      ),
  };
}

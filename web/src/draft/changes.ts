import { changeAt } from "./paths";

/** A text for a path, with the origin that the service gives it; without one the path holds a choice. */
export type Change = { path: string; text: string; origin: string | null; note?: string };

/** A copy of a build with changes made, below `prefix`. What was known of an old text does not outlive it. */
export function applyChanges<T>(build: T, changes: readonly Change[], prefix = ""): T {
  return changes.reduce(
    (made, { path, text, origin, note }) =>
      changeAt(made, prefix + path, (old) =>
        origin === null
          ? text
          : {
              ...(old as object),
              text,
              origin,
              value: null,
              doubt: null,
              meter: "",
              reading: null,
              basis: null,
              note: note ?? "",
            },
      ),
    build,
  );
}

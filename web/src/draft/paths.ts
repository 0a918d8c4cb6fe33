/* Paths as the service gives them: names, and the permanent ids of list items. */

type Json = Record<string, unknown>;

function child(at: unknown, step: string): unknown {
  if (Array.isArray(at)) return at.find((item: Json) => item["id"] === step);
  return at === null || typeof at !== "object" ? undefined : (at as Json)[step];
}

export function getAt(root: unknown, path: string): unknown {
  return path === "" ? root : path.split(".").reduce(child, root);
}

/** A copy of `root` with the value at `path` changed; what is beside the path is shared, not copied. */
export function changeAt<T>(root: T, path: string, change: (old: unknown) => unknown): T {
  if (path === "") return change(root) as T;
  const steps = path.split(".");
  const go = (at: unknown, depth: number): unknown => {
    if (depth === steps.length) return change(at);
    const step = steps[depth] as string;
    if (Array.isArray(at)) return at.map((item: Json) => (item["id"] === step ? go(item, depth + 1) : item));
    return { ...(at as Json), [step]: go((at as Json | undefined)?.[step], depth + 1) };
  };
  return go(root, 0) as T;
}

/** An id that no item has had before. */
export function freshId(): string {
  // A page that came by plain HTTP from another machine has no randomUUID.
  return [...crypto.getRandomValues(new Uint8Array(5))].map((b) => b.toString(16).padStart(2, "0")).join("");
}

/* What is typed stays in this browser until the service has acknowledged it: whatever ends first, page or service. */

export type Kept<T> = { body: T; version: number; at: string };
export type Found<T> = Kept<T> & { place: string };
export type Shelf = Pick<Storage, "getItem" | "setItem" | "removeItem" | "key" | "length">;

const every = (id: string) => `typed:${id}:`;

/** Where a tab keeps what is typed into a build: two tabs on one build do not write over one another. */
export const placeOf = (id: string, tab: string) => every(id) + tab;

/** Keeps a draft; false where there is no room for it. */
export function keepTyped<T>(place: string, kept: Kept<T>, shelf: Shelf): boolean {
  try {
    shelf.setItem(place, JSON.stringify(kept));
    return true;
  } catch {
    return false;
  }
}

/** The newest draft of any tab that was not acknowledged and is another one than what is saved, if there is one. */
export function readTyped<T>(id: string, saved: T, shelf: Shelf): Found<T> | null {
  const now = JSON.stringify(saved);
  return Array.from({ length: shelf.length }, (_, i) => shelf.key(i) ?? "")
    .filter((place) => place.startsWith(every(id)))
    .map((place) => read<T>(place, shelf))
    .filter((found) => found !== null && JSON.stringify(found.body) !== now)
    .reduce((best, found) => (best === null || (found !== null && found.at > best.at) ? found : best), null);
}

function read<T>(place: string, shelf: Shelf): Found<T> | null {
  try {
    const kept = JSON.parse(shelf.getItem(place) ?? "") as Kept<T>;
    const whole = typeof kept.version === "number" && typeof kept.at === "string" && Boolean(kept.body);
    return whole ? { ...kept, place } : null;
  } catch {
    return null;
  }
}

export function forgetTyped(place: string, shelf: Shelf): void {
  shelf.removeItem(place);
}

/** How long ago, in words. */
export function age(at: string, now: number): string {
  const minutes = Math.max(Math.round((now - new Date(at).getTime()) / 60000), 0);
  if (minutes < 1) return "a moment ago";
  if (minutes < 90) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${hours} h ago` : `${Math.round(hours / 24)} days ago`;
}

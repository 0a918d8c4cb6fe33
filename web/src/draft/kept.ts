/* What is typed stays in this browser until the service has acknowledged it: whatever ends first, page or service. */

export type Kept<T> = { body: T; version: number; at: string };
export type Shelf = Pick<Storage, "getItem" | "setItem" | "removeItem">;

const place = (id: string) => `typed:${id}`;

/** Keeps a draft; false where there is no room for it. */
export function keepTyped<T>(id: string, kept: Kept<T>, shelf: Shelf): boolean {
  try {
    shelf.setItem(place(id), JSON.stringify(kept));
    return true;
  } catch {
    return false;
  }
}

/** The draft that was not acknowledged, if it is another one than what is saved; null where there is none. */
export function readTyped<T>(id: string, saved: T, shelf: Shelf): Kept<T> | null {
  try {
    const kept = JSON.parse(shelf.getItem(place(id)) ?? "") as Kept<T>;
    const whole = typeof kept.version === "number" && typeof kept.at === "string" && Boolean(kept.body);
    return whole && JSON.stringify(kept.body) !== JSON.stringify(saved) ? kept : null;
  } catch {
    return null;
  }
}

export function forgetTyped(id: string, shelf: Shelf): void {
  shelf.removeItem(place(id));
}

/** How long ago, in words. */
export function age(at: string, now: number): string {
  const minutes = Math.max(Math.round((now - new Date(at).getTime()) / 60000), 0);
  if (minutes < 1) return "a moment ago";
  if (minutes < 90) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${hours} h ago` : `${Math.round(hours / 24)} days ago`;
}

/* Saves one build as it is edited. One Autosave belongs to one build for life: its body, its version and its address
   cannot come apart, whatever the screen shows by the time a save gets through. */

export type SaveState = "saved" | "typing" | "saving" | "offline" | "failing" | "refused" | "gone" | "conflict";
export type Conflict = { siblingId: string; siblingName: string; detail: string };
export type Saved = { version: number; saved_at: string };
/** `merges` counts how often another tab's edits were taken in. */
export type Report = {
  state: SaveState;
  problem: string;
  savedAt: string;
  conflict: Conflict | null;
  merges: number;
};
/** What is saved by now, and this draft's edits in it; null where both changed the same field. */
export type Joint<T> = { version: number; saved: T; build: T | null };

/** Why a save was not taken: status 0 is no answer at all, 409 another tab's save. */
export type Failure = { status: number; message: string; body?: unknown };

export type Io<T> = {
  /** With `sibling` a draft that comes too late is kept as a build of its own. */
  save: (version: number, body: T, sibling: boolean) => Promise<Saved>;
  /** Brings a draft, begun on `base`, together with what another tab saved meanwhile. */
  merge: (base: T, mine: T) => Promise<Joint<T>>;
  /** The draft is another one now: another tab's edits are in it. */
  merged: (body: T) => void;
  /** Keeps what is typed until it is acknowledged, and forgets it then. */
  keep: (version: number, body: T) => void;
  forget: () => void;
  /** Runs something later and gives what calls it off. */
  later: (ms: number, work: () => void) => () => void;
  report: (report: Report) => void;
};

export const SAVE_AFTER_MS = 500;
export const RETRY_AFTER_MS = 3000;

export class Autosave<T> {
  private latest: T;
  private written: T;
  private version: number;
  private running: Promise<boolean> | null = null;
  private callOff: (() => void) | null = null;
  private stopped = false;
  private apart = false;
  private now: Report;

  constructor(
    loaded: { body: T; version: number; savedAt: string },
    private readonly io: Io<T>,
  ) {
    this.latest = this.written = loaded.body;
    this.version = loaded.version;
    this.now = { state: "saved", problem: "", savedAt: loaded.savedAt, conflict: null, merges: 0 };
    io.report(this.now);
  }

  get of(): number {
    return this.version;
  }

  get body(): T {
    return this.latest;
  }

  /** Whether something has not been acknowledged and may still be. */
  get pending(): boolean {
    return this.latest !== this.written && !this.stopped;
  }

  /** A newer draft: saved after a rest. */
  edited(body: T): void {
    this.latest = body;
    if (this.stopped) return;
    this.io.keep(this.version, body);
    this.tell({ state: "typing" });
    this.soon(SAVE_AFTER_MS);
  }

  /** Saves what is there now; true once nothing is left unsaved. */
  async flush(): Promise<boolean> {
    this.callOff?.();
    this.callOff = null;
    if (this.running) await this.running;
    if (!this.pending) return !this.stopped;
    this.running = this.save(this.latest);
    const good = await this.running;
    this.running = null;
    if (good && this.pending) this.soon(SAVE_AFTER_MS);
    return good;
  }

  private async save(body: T): Promise<boolean> {
    this.tell({ state: "saving" });
    try {
      const done = await this.io.save(this.version, body, this.apart);
      this.version = done.version;
      this.written = body;
      this.apart = false;
      if (this.latest === body) this.io.forget();
      else this.io.keep(this.version, this.latest);
      this.tell({ state: this.latest === body ? "saved" : "typing", problem: "", savedAt: done.saved_at });
      return true;
    } catch (error) {
      const failure = error as Failure;
      if (failure.status === 409 && !this.apart) return this.join(body);
      this.failed(failure);
      return false;
    }
  }

  /** Another tab was first: what it saved and what is typed here are brought together, and saved as an edit of that. */
  private async join(mine: T): Promise<boolean> {
    try {
      const { version, saved, build } = await this.io.merge(this.written, mine);
      if (this.latest !== mine) return await this.join(this.latest); // typed meanwhile
      if (build === null) {
        this.apart = true; // both changed the same: the service keeps this one as a build of its own
        return await this.save(mine);
      }
      this.version = version;
      this.written = saved;
      this.latest = build;
      this.io.keep(version, build);
      this.io.merged(build);
      this.tell({ merges: this.now.merges + 1 });
      return await this.save(build);
    } catch (error) {
      this.failed(error as Failure);
      return false;
    }
  }

  private failed(failure: Failure): void {
    if (failure.status === 409) {
      const told = failure.body as { sibling_id: string; sibling_name: string };
      this.stopped = true;
      this.io.forget(); // the service has kept it, as a build of its own
      const conflict = { siblingId: told.sibling_id, siblingName: told.sibling_name, detail: failure.message };
      this.tell({ state: "conflict", problem: failure.message, conflict });
    } else if (failure.status === 0) {
      this.tell({ state: "offline", problem: failure.message });
      this.soon(RETRY_AFTER_MS);
    } else if (failure.status >= 500) {
      this.tell({ state: "failing", problem: failure.message });
      this.soon(RETRY_AFTER_MS);
    } else if (failure.status === 404) this.tell({ state: "gone", problem: failure.message });
    else this.tell({ state: "refused", problem: failure.message });
  }

  private soon(ms: number): void {
    this.callOff?.();
    this.callOff = this.io.later(ms, () => void this.flush());
  }

  private tell(part: Partial<Report>): void {
    this.now = { ...this.now, ...part };
    this.io.report(this.now);
  }
}

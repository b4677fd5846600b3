/** What decides whether a page may go. */
export interface PageState {
  /** Edits that are not saved yet, or a try that only this page has. */
  readonly unsaved: boolean;
  /** Somebody is typing. */
  readonly typing: boolean;
}

interface NewerOptions {
  /** The build this page is of. */
  readonly own: string;
  readonly state: () => PageState;
  readonly reload: () => void;
  /** What a tab remembers over a reload: the build it was last reloaded for. */
  readonly memory: { get(): string | null; set(build: string): void };
  readonly every: (job: () => void, ms: number) => { stop(): void };
}

const LOOK_MS = 500;

/**
 * Reloads a page when the server gives out pages of another build, as soon as nothing would be lost. Once for each
 * build: a page that is still another afterwards stays and says so.
 */
export class Newer {
  readonly #options: NewerOptions;
  #waiting: { stop(): void } | null = null;

  constructor(options: NewerOptions) {
    this.#options = options;
  }

  /** The server says of which build its pages are (null where it does not know). True while this page is of another. */
  see(build: string | null): boolean {
    const { own, memory, every } = this.#options;
    const other = build !== null && build !== own;
    if (!other || memory.get() === build) {
      this.#waiting?.stop();
      this.#waiting = null;
      return other;
    }
    const look = (): void => {
      const { unsaved, typing } = this.#options.state();
      if (unsaved || typing) return;
      this.#waiting?.stop();
      this.#waiting = null;
      memory.set(build);
      this.#options.reload();
    };
    this.#waiting?.stop();
    this.#waiting = every(look, LOOK_MS);
    look();
    return true;
  }
}

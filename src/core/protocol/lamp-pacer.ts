/** Rate limits of a hub of smart lamps: about 10 updates a second for a lamp and 25 for all together. */
export const LAMP_INTERVAL_MS = 100;
export const HUB_UPDATES_A_SECOND = 25;
/** A colour that did not change is told again this often: lamps are switched off and on by hand. */
const REPEAT_MS = 5000;

export interface LampColour {
  /** Linear light, 0-1. */
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

interface LampState {
  wanted: LampColour;
  sent: LampColour | null;
  sentAt: number;
}

/**
 * Chooses which lamp is told its colour next. Only the newest colour of a lamp counts: what came between is left out,
 * nothing is ever queued. The lamp that has waited longest goes first.
 */
export class LampPacer {
  readonly #lamps = new Map<string, LampState>();
  #allowance = HUB_UPDATES_A_SECOND / 5;
  #allowedAt: number | null = null;

  want(lampId: string, colour: LampColour): void {
    const lamp = this.#lamps.get(lampId);
    if (lamp) lamp.wanted = colour;
    else this.#lamps.set(lampId, { wanted: colour, sent: null, sentAt: -Infinity });
  }

  /** Lamps that are not among these are forgotten. */
  keepOnly(lampIds: ReadonlySet<string>): void {
    for (const id of this.#lamps.keys()) if (!lampIds.has(id)) this.#lamps.delete(id);
  }

  /** What may be sent at this moment, in order; it counts as sent. Times in ms. */
  take(nowMs: number): { lampId: string; colour: LampColour }[] {
    const most = HUB_UPDATES_A_SECOND / 5;
    const since = nowMs - (this.#allowedAt ?? nowMs);
    this.#allowedAt = nowMs;
    this.#allowance = Math.min(most, this.#allowance + (since * HUB_UPDATES_A_SECOND) / 1000);
    const due = [...this.#lamps]
      .filter(([, l]) => nowMs - l.sentAt >= (same(l.wanted, l.sent) ? REPEAT_MS : LAMP_INTERVAL_MS))
      .sort((a, b) => a[1].sentAt - b[1].sentAt);
    const chosen: { lampId: string; colour: LampColour }[] = [];
    for (const [lampId, lamp] of due) {
      if (this.#allowance < 1) break;
      this.#allowance--;
      lamp.sent = lamp.wanted;
      lamp.sentAt = nowMs;
      chosen.push({ lampId, colour: lamp.wanted });
    }
    return chosen;
  }

  /** It was not taken: told again as soon as there is room. */
  failed(lampId: string): void {
    const lamp = this.#lamps.get(lampId);
    if (lamp) lamp.sent = null;
  }
}

const same = (a: LampColour, b: LampColour | null): boolean =>
  b !== null && a.red === b.red && a.green === b.green && a.blue === b.blue;

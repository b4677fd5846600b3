import { aimValues, axesOf, FULL_16, sentFor, type Axes } from '$core/aim/axes.ts';
import { solutionFor } from '$core/aim/solutions.ts';
import { nearestTo, wayTo, waysWithin } from '$core/aim/solve.ts';
import { applyChange } from '$core/document/change.ts';
import type { LitId } from '$core/ids.ts';
import type { Place3 } from '$core/plot/paper.ts';
import type { AimRecord, UnitRecord } from '$core/records/index.ts';
import { clamp } from '$core/units.ts';
import type { App } from '../app.svelte.ts';
import { corrected, putAim, valuesTo } from './aim-edits.ts';

/** How far one step of a key or a button goes, degrees. */
export const COARSE_DEG = 1;
export const FINE_DEG = 0.1;

/** Where a head stands by hand, degrees of its beam. */
export interface Stand {
  readonly pan: number;
  readonly tilt: number;
}

/** A head pointed by a person: a pad, keys or buttons move its beam, and it is sent at once. */
export class Pointing {
  readonly #app: App;
  constructor(app: App) {
    this.#app = app;
  }

  #axes(unit: UnitRecord): Axes {
    return axesOf(this.#app.live.document, unit)!;
  }

  /** Sends a head to where its beam stands at these angles, within its limits; says where that is. */
  send(unit: UnitRecord, stand: Stand): Stand {
    const axes = this.#axes(unit);
    const at = { pan: clamp(stand.pan, ...axes.pan), tilt: clamp(stand.tilt, ...axes.tilt) };
    this.#app.hand.setAll({ [unit.id]: aimValues(axes, at) });
    return at;
  }

  /** The way to a place that is nearest to where a head stands; where it stands when the place is its own. */
  towards(unit: UnitRecord, place: Place3, from: Stand): Stand {
    const axes = this.#axes(unit);
    const way = wayTo(axes.standing, place);
    if (!way) return from;
    const ways = waysWithin(axes, way);
    const off = ({ pan, tilt }: Stand): number => Math.abs(pan - from.pan) + Math.abs(tilt - from.tilt);
    return ways.length === 0 ? nearestTo(axes, way) : ways.reduce((a, b) => (off(b) < off(a) ? b : a));
  }

  /** What is sent on the channels of a head that stands so, 0-1 each. */
  sent(unit: UnitRecord, stand: Stand): { pan: number; tilt: number } {
    const { panDmx, tiltDmx } = sentFor(this.#axes(unit), unit, stand);
    return { pan: (panDmx ?? FULL_16 / 2) / FULL_16, tilt: (tiltDmx ?? FULL_16 / 2) / FULL_16 };
  }
}

/** Aims corrected in the room: what is seen is moved at once, and kept when the gesture ends. */
export class Correcting {
  readonly #app: App;
  /** The aim as it would be, while a gesture lasts. */
  #trial: AimRecord | null = null;
  #heads: readonly UnitRecord[] = [];
  constructor(app: App) {
    this.#app = app;
  }

  /** Shows an aim on heads. */
  show(aim: AimRecord, heads: readonly UnitRecord[]): void {
    if (heads.length > 0) this.#app.hand.setAll(valuesTo(this.#app, aim.id, heads));
  }

  /** The aim with the corrections of heads moved by degrees. */
  turned(aim: AimRecord, heads: readonly UnitRecord[], pan: number, tilt: number): AimRecord {
    return corrected(
      aim,
      new Map(
        heads.map(({ id }) => {
          const now = aim.corrections[id] ?? { pan: 0, tilt: 0 };
          return [id, { pan: now.pan + pan, tilt: now.tilt + tilt }];
        }),
      ),
    );
  }

  /** Heads go where they would for the aim as it is tried, without keeping it. */
  try(aim: AimRecord, heads: readonly UnitRecord[]): void {
    this.#trial = aim;
    this.#heads = heads;
    const document = applyChange(this.#app.live.document, { put: [aim], remove: [] });
    this.#app.hand.setAll(
      Object.fromEntries(
        heads.flatMap(({ id }) => {
          const found = solutionFor(document, id, aim.id);
          return found ? [[id, found.values]] : [];
        }),
      ) as Record<LitId, Record<string, number>>,
    );
  }

  /** Keeps what was tried: the heads follow the aim again. */
  keep(): void {
    const [aim, heads] = [this.#trial, this.#heads];
    this.#trial = null;
    if (!aim) return;
    putAim(this.#app, 'Correct', aim);
    this.show(aim, heads);
  }
}

import { clamp01 } from '$core/units.ts';
import type { Seeing } from './scene.ts';

const KEPT = 'amber-room';
export const USUAL: Seeing = { ambient: 0.25, exposure: 0.5, haze: 0.5 };

/** How the room is seen in this browser, as it was left. */
export function readSeeing(): Seeing {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Partial<Record<keyof Seeing, unknown>>;
    const of = (key: keyof Seeing): number =>
      typeof kept[key] === 'number' && Number.isFinite(kept[key]) ? clamp01(kept[key]) : USUAL[key];
    return { ambient: of('ambient'), exposure: of('exposure'), haze: of('haze') };
  } catch {
    return USUAL;
  }
}

export function keepSeeing(seeing: Seeing): void {
  localStorage.setItem(KEPT, JSON.stringify(seeing));
}

/** Rigs that flash, and frames of them as they are sent. */
import type { Document } from '../../src/core/document/change.ts';
import { make } from '../../src/core/records/index.ts';
import { FlashGuard, initialLive, newPlay, type Safety, type TargetId } from '../../src/core/show/index.ts';
import { drawing, units, type UnitRow } from './rig.ts';

export const SAFETY: Safety = { limitFlashes: true, flashesPerSecond: 3, share: 0.25, strobeHz: 12 };
export const dimmers = (count: number) =>
  units(
    ...Array.from({ length: count }, (_, i): UnitRow => ({
      slug: `d${i}`,
      profile: 'generic-dimmer',
      mode: '1ch',
      address: i + 1,
    })),
  );
export const dimmerIds = (count: number) => Array.from({ length: count }, (_, i) => `unit:d${i}` as const);
/** A square of light over units, so many times a second. */
export const flasher = (on: readonly `unit:${string}`[], rate: number) =>
  make('effect', {
    id: 'effect:f',
    number: 1,
    name: 'F',
    on: [...on],
    rate,
    fadeInMs: 0,
    parts: [{ does: 'level', wave: 'square', width: 0.5 }],
  });

/** Slot 1 of every frame of some seconds at 40 frames a second, with or without the guard. */
export function run(
  document: Document,
  target: TargetId,
  seconds: number,
  safety: Safety | null,
): { slots: number[][]; held: boolean } {
  const { rig, at } = drawing(document, {
    ...initialLive(0),
    playing: [newPlay({ id: 'p', target, startedAt: 0 })],
  });
  const guard = safety && new FlashGuard(rig.arrays, safety);
  const slots: number[][] = [];
  let held = false;
  for (let i = 0; i < seconds * 40; i++) {
    slots.push([...at(i * 25, guard).subarray(0, 32)]);
    held ||= guard?.holding ?? false;
  }
  return { slots, held };
}

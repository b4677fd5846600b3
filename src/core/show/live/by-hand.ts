import type { LitId } from '../../ids.ts';
import { COLOUR_ATTRIBUTES, splitAttributeKey } from '../../attributes.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { Now } from './apply-live.ts';
import type { LiveCommand } from './command.ts';
import { newPlay, PLAYING_LIMIT, RAW_LIMIT, type LiveState, type Play } from './state.ts';

/** Values by hand by unit and attribute; null lets one go. */
export type HandSet = Record<string, Record<string, UnitValues[string] | null>>;

/** An effect that drives the same of the same units as one by hand takes its place there. */
export function handEffect(
  state: LiveState,
  { spec, on }: Extract<LiveCommand, { do: 'handEffect' }>,
  now: Now,
  id: string,
): LiveState {
  const drives = (of: Play['spec']): string =>
    [...new Set(of?.parts.map((p) => (p.does === 'pixels' ? 'colour' : p.does)))].sort().join();
  const others = state.handEffects.map((p) =>
    drives(p.spec) === drives(spec) ? { ...p, on: (p.on ?? []).filter((unit) => !on.includes(unit)) } : p,
  );
  const started = newPlay({
    id,
    target: null,
    startedAt: now.ms,
    startedBeat: now.beat,
    speed: state.pace,
    spec,
    on: [...on],
  });
  return { ...state, handEffects: [...others.filter((p) => p.on!.length > 0), started].slice(-PLAYING_LIMIT) };
}

/** A colour by hand ends effects by hand that drive the colour of that unit. */
export function withoutColoured(effects: readonly Play[], set: HandSet): Play[] {
  const coloured = new Set(
    Object.entries(set).flatMap(([id, values]) =>
      Object.entries(values).some(
        ([key, value]) =>
          value !== null && (COLOUR_ATTRIBUTES as readonly string[]).includes(splitAttributeKey(key).attribute),
      )
        ? [id as LitId]
        : [],
    ),
  );
  if (coloured.size === 0) return [...effects];
  return effects.flatMap((p) =>
    p.spec?.parts.some((part) => part.does === 'colour' || part.does === 'pixels') ? leaving([p], coloured) : [p],
  );
}

/** Effects by hand without these units; what plays on nobody any more is gone. */
export function leaving(effects: readonly Play[], units: ReadonlySet<LitId>): Play[] {
  return effects.flatMap((p) => {
    const on = (p.on ?? []).filter((id) => !units.has(id));
    return on.length === p.on?.length ? [p] : on.length > 0 ? [{ ...p, on }] : [];
  });
}

export function mergeHand(hand: LiveState['hand'], set: HandSet): LiveState['hand'] {
  const next: Record<string, UnitValues> = { ...hand };
  const merged = mergedAlike();
  for (const unitId of Object.keys(set)) {
    const values = merged(next[unitId], set[unitId]!);
    if (values === null) delete next[unitId];
    else next[unitId] = values;
  }
  return next as LiveState['hand'];
}

/**
 * Lays values over what a unit has; null where nothing is left. What comes out alike is one and the same object: thousands
 * of units on one fader are compared, told and compiled as one.
 */
function mergedAlike(): (own: UnitValues | undefined, set: HandSet[string]) => UnitValues | null {
  const known = new Map<UnitValues | undefined, Map<string, UnitValues | null>>();
  const made = new Map<string, UnitValues>();
  return (own, set) => {
    let ofOwn = known.get(own);
    if (!ofOwn) known.set(own, (ofOwn = new Map()));
    const key = keyOf(set);
    const found = ofOwn.get(key);
    if (found !== undefined) return found;
    const merged: UnitValues = { ...own };
    for (const [attribute, value] of Object.entries(set)) {
      if (value === null) delete merged[attribute];
      else merged[attribute] = value;
    }
    const text = JSON.stringify(merged);
    const alike = text === '{}' ? null : (made.get(text) ?? merged);
    if (alike) made.set(text, alike);
    ofOwn.set(key, alike);
    return alike;
  };
}

/** Tells sets of values apart; quickly for the one level that a fader sets on thousands. */
function keyOf(set: HandSet[string]): string {
  const [first, ...more] = Object.keys(set);
  const value = first === undefined ? null : set[first];
  return more.length === 0 && typeof value === 'number' ? `${first} ${value}` : JSON.stringify(set);
}

export function mergeRaw(raw: LiveState['raw'], set: Readonly<Record<string, number | null>>): LiveState['raw'] {
  const next = { ...raw };
  let room = RAW_LIMIT - Object.keys(next).length;
  for (const [slot, value] of Object.entries(set)) {
    const held = slot in next;
    if (value === null) {
      if (held) room++;
      delete next[slot];
    } else if (held || room > 0) {
      if (!held) room--;
      next[slot] = value;
    }
  }
  return next;
}

export function without(hand: LiveState['hand'], units: readonly LitId[]): LiveState['hand'] {
  const next = { ...hand };
  for (const unit of units) delete next[unit];
  return next;
}

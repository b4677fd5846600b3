import { keysAs, keysOf } from '../../keys.ts';
import type { LitId } from '../../ids.ts';
import { COLOUR_ATTRIBUTES, splitAttributeKey } from '../../attributes.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { Now } from './apply-live.ts';
import { idsIn } from './many.ts';
import type { LiveCommand } from './command.ts';
import { newPlay, PLAYING_LIMIT, RAW_LIMIT, type LiveState, type Play } from './state.ts';

/** Values by hand by unit and attribute; null lets one go. */
export type HandSet = Record<string, Record<string, UnitValues[string] | null>>;
/** The same values for many. */
interface Alike {
  /** Ids in one text (`many.ts`). */
  readonly on: string;
  readonly set: HandSet[string];
}

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

/** What is said of many at once, by the unit. */
export function spelled(set: HandSet, alike: readonly Alike[]): HandSet {
  if (alike.length === 0) return set;
  const whole = { ...set };
  for (const { on, set: values } of alike) for (const id of idsIn(on)) whole[id] = { ...whole[id], ...values };
  return whole;
}

/** True where all that is by hand is given something, and nobody else is. */
function isAll({ on, set }: Alike, keys: readonly string[]): boolean {
  if (Object.values(set).includes(null)) return false;
  const ids: readonly string[] = idsIn(on);
  return ids.length === keys.length && ids.every((id, i) => id === keys[i]);
}

/** What is by hand with more of it laid over, unit by unit and then the same for many. */
export function mergeHand(hand: LiveState['hand'], set: HandSet, alike: readonly Alike[] = []): LiveState['hand'] {
  const before: Readonly<Record<string, UnitValues>> = hand;
  const merged = mergedAlike();
  const [keys, first] = [keysOf(hand), alike[0]];
  const all = keysOf(set).length === 0 && first !== undefined && isAll(first, keys);
  const next: Record<string, UnitValues> = {};
  if (all) for (const id of keys) next[id] = merged(before[id], first.set)!;
  else for (const id of keys) next[id] = before[id]!;
  let others = false;
  const put = (id: string, values: HandSet[string]): void => {
    const own = next[id];
    const now = merged(own, values);
    if ((own === undefined) === (now !== null)) others = true;
    if (now === null) delete next[id];
    else next[id] = now;
  };
  for (const id of keysOf(set)) put(id, set[id]!);
  for (const { on, set: values } of all ? alike.slice(1) : alike) for (const id of idsIn(on)) put(id, values);
  if (!others) keysAs(next, hand);
  return next as LiveState['hand'];
}

/**
 * Lays values over what a unit has; null where nothing is left. What comes out alike is one and the same object: thousands
 * of units on one fader are compared, told and compiled as one.
 */
function mergedAlike(): (own: UnitValues | undefined, set: HandSet[string]) => UnitValues | null {
  const known = new Map<UnitValues | undefined, Map<string, UnitValues | null>>();
  const made = new Map<string, UnitValues>();
  let last: { own: UnitValues | undefined; set: HandSet[string]; merged: UnitValues | null } | null = null;
  return (own, set) => {
    // Mostly it is as it was with the one before.
    if (last && last.own === own && sameSet(last.set, set)) return last.merged;
    last = { own, set, merged: laid(own, set) };
    return last.merged;
  };
  function laid(own: UnitValues | undefined, set: HandSet[string]): UnitValues | null {
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
  }
}

/** True where both set the same plain values. */
function sameSet(a: HandSet[string], b: HandSet[string]): boolean {
  if (a === b) return true;
  let keys = 0;
  for (const key in a) {
    if (a[key] !== b[key]) return false;
    keys++;
  }
  for (const _ in b) keys--;
  return keys === 0;
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

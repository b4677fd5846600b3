import type { Document } from '../../document/change.ts';
import type { Id, LitId } from '../../ids.ts';
import { attributeInfo, splitAttributeKey, type AttributeFamily } from '../../attributes.ts';
import { litOf } from '../../patch/lit.ts';
import { plainValues } from '../../palette/resolve.ts';
import { referencesOf, type PaletteRecord } from '../../records/index.ts';
import type { PaletteFamily } from '../../records/palette.ts';
import type { PlainValues, UnitValues } from '../../records/scene.ts';

export type Values = Readonly<Record<LitId, UnitValues>>;

/** How what is by hand goes into a scene that is there: besides what it has, in its place, or out of it. */
export type StoreMode = 'add' | 'replace' | 'takeOut';

/** Values of a scene after the hand was stored into it. Nothing but what was touched is changed by adding or taking out. */
export function storedInto(values: Values, hand: Values, mode: StoreMode): Record<LitId, UnitValues> {
  if (mode === 'replace') return { ...hand };
  const next: Record<LitId, UnitValues> = { ...values };
  for (const [id, own] of Object.entries(hand) as [LitId, UnitValues][]) {
    if (mode === 'add') next[id] = { ...next[id], ...own };
    else {
      const left = Object.fromEntries(
        Object.entries(next[id] ?? {}).filter(([key]) => !touches(Object.keys(own), key)),
      );
      if (Object.keys(left).length > 0) next[id] = left;
      else delete next[id];
    }
  }
  return next;
}

/** A whole unit's attribute stands for those of its cells too. */
const touches = (keys: readonly string[], key: string): boolean =>
  keys.includes(key) || keys.includes(splitAttributeKey(key).attribute);

/** Values of single cells that are all the same, as one value of the whole. */
export function wholeOf(values: UnitValues, cells: (attribute: string) => number): UnitValues {
  const byAttribute = new Map<string, string[]>();
  const next: UnitValues = {};
  for (const [key, value] of Object.entries(values)) {
    const { attribute, cell } = splitAttributeKey(key);
    if (cell === 0) next[key] = value;
    else byAttribute.set(attribute, [...(byAttribute.get(attribute) ?? []), key]);
  }
  for (const [attribute, keys] of byAttribute) {
    const first = JSON.stringify(values[keys[0]!]);
    const same = keys.length === cells(attribute) && keys.every((key) => JSON.stringify(values[key]) === first);
    if (same && !(attribute in next)) next[attribute] = values[keys[0]!]!;
    else for (const key of keys) next[key] = values[key]!;
  }
  return next;
}

const FAMILIES: Readonly<Record<AttributeFamily, PaletteFamily | null>> = {
  level: 'level',
  colour: 'colour',
  aim: 'aim',
  beam: 'beam',
  effect: 'effect',
  control: null,
};
/** The family of palettes an attribute belongs to; null where palettes say nothing of it. */
export const paletteFamilyOf = (key: string): PaletteFamily | null =>
  FAMILIES[attributeInfo(splitAttributeKey(key).attribute)?.family ?? 'control'];

/** The families of palettes that what is by hand could be stored into. */
export const familiesOf = (hand: Values): PaletteFamily[] => {
  const found = new Set<PaletteFamily>();
  for (const own of Object.values(hand))
    for (const key of Object.keys(own)) {
      const family = paletteFamilyOf(key);
      if (family) found.add(family);
    }
  return [...found];
};

/**
 * What a palette says after the hand was stored into it. What all units have in common is said of all; a wheel, and
 * whatever differs from one profile to the next, of the profile; where units of one profile differ, of each unit.
 */
export function storedPalette(
  document: Document,
  family: PaletteFamily,
  hand: Values,
): Pick<PaletteRecord, 'all' | 'profiles' | 'units'> {
  const said = (Object.entries(hand) as [LitId, UnitValues][]).flatMap(([id, own]) => {
    const lit = litOf(document, id);
    const plain = Object.entries(plainValues(document, id, own)).filter(([key]) => paletteFamilyOf(key) === family);
    return lit && plain.length > 0 ? [{ id, profileId: lit.unit.profileId, values: Object.fromEntries(plain) }] : [];
  });
  const all: PlainValues = {};
  const profiles: Record<string, PlainValues> = {};
  const units: Record<LitId, PlainValues> = {};
  for (const key of new Set(said.flatMap(({ values }) => Object.keys(values)))) {
    const having = said.filter(({ values }) => key in values);
    const texts = (list: typeof having): Set<string> => new Set(list.map(({ values }) => JSON.stringify(values[key])));
    const general = typeof having[0]!.values[key] === 'number';
    if (general && texts(having).size === 1) {
      all[key] = having[0]!.values[key]!;
      continue;
    }
    for (const profileId of new Set(having.map((h) => h.profileId))) {
      const own = having.filter((h) => h.profileId === profileId);
      if (texts(own).size === 1) profiles[profileId] = { ...profiles[profileId], [key]: own[0]!.values[key]! };
      else for (const { id, values } of own) units[id] = { ...units[id], [key]: values[key]! };
    }
  }
  return { all, profiles, units } as Pick<PaletteRecord, 'all' | 'profiles' | 'units'>;
}

/** Scenes, chases and effects that refer to a record: where it is used. */
export function usersOf(document: Document, id: Id): { readonly id: string; readonly name: string }[] {
  return [...document.values()].flatMap((record) => {
    if (record.kind !== 'scene' && record.kind !== 'chase' && record.kind !== 'effect') return [];
    for (const [, named] of referencesOf(record)) if (named === id) return [{ id: record.id, name: record.name }];
    return [];
  });
}

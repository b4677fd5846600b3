import type { Document } from '../../document/change.ts';
import type { Id, LitId } from '../../ids.ts';
import { plainValues } from '../../palette/resolve.ts';
import { attributeInfo, attributeKey, COLOUR_ATTRIBUTES, splitAttributeKey } from '../../attributes.ts';
import { homeFraction, isEmitter, type Programmable } from '../../profile/layout.ts';
import { litOf } from '../../patch/lit.ts';
import { partCells } from '../../prop/parts.ts';
import { lightValues } from '../../ready/ready.ts';
import { shownBy } from '../../records/chase.ts';
import type { EffectSpec } from '../../records/effect.ts';
import type { UnitValues } from '../../records/scene.ts';
import type { HandSet } from './by-hand.ts';
import { reached } from '../../patch/groups.ts';
import { DEEPEST, reachOf } from '../play/program.ts';
import { recordIdOf } from '../../records/target.ts';
import type { LiveState, Play } from './state.ts';
import { wholeOf } from './store.ts';

const LEVEL = 'Dimmer';
const isLevel = (key: string): boolean => splitAttributeKey(key).attribute === LEVEL;
const isColour = (attribute: string): boolean => (COLOUR_ATTRIBUTES as readonly string[]).includes(attribute);
const cellsOf = (keys: readonly string[]): number[] => [...new Set(keys.map((key) => splitAttributeKey(key).cell))];

type Some = Readonly<Record<string, unknown>>;

/** What shows nothing unless there is light: colours, aims, pictures and the like, and a shutter that is not closed. */
function needsLight(key: string, value: UnitValues[string] | null, items: readonly Programmable[]): boolean {
  if (value === null) return false;
  const { attribute } = splitAttributeKey(key);
  const family = attributeInfo(attribute)?.family ?? 'control';
  // How fast a head will turn is nothing to be seen.
  if (family !== 'level') return family !== 'control' && !attribute.endsWith('Speed');
  if (attribute === LEVEL) return false;
  if (typeof value !== 'object' || !('range' in value)) return false;
  const range = items.find((i) => i.attribute === attribute)?.channel?.ranges.find((r) => r.name === value.range);
  return range?.light === 'strobe' || range?.light === 'open';
}

/** The level of a unit that is dark unless somebody raises it; null where there is none, or where it rests lit. */
const raisedLevel = (items: readonly Programmable[]): Programmable | null => {
  const item = items.find((i) => i.attribute === LEVEL);
  return item && homeFraction(item) === 0 ? item : null;
};

/** Where the light of a unit or part comes from. */
interface Lamp {
  readonly unit: LitId;
  /** What it has to program itself. */
  readonly items: readonly Programmable[];
  /** Who has the level: itself, or the unit of a part where one level is for all cells. */
  readonly owner: LitId;
  readonly owned: readonly Programmable[];
  readonly level: Programmable;
  /** The cells that are meant where the owner is the unit; null: those that are touched. */
  readonly cells: readonly number[] | null;
}

function lampOf(document: Document, id: string): Lamp | null {
  const found = litOf(document, id);
  if (!found) return null;
  const { unit, part } = found;
  const items = found.layout.programmable;
  const own = raisedLevel(items);
  if (own) return { unit: unit.id, items, owner: id as LitId, owned: items, level: own, cells: null };
  const owned = part ? litOf(document, unit.id)!.layout.programmable : [];
  const level = raisedLevel(owned);
  return part && level ? { unit: unit.id, items, owner: unit.id, owned, level, cells: partCells(part) } : null;
}

/** Whether values say a level: any of the whole or of its cells, or one that a single cell has. */
export const hasLevel = (values: Some = {}, cell = 0): boolean =>
  Object.keys(values).some(
    (key) => isLevel(key) && values[key] !== null && (cell === 0 || [0, cell].includes(splitAttributeKey(key).cell)),
  );

/**
 * What is set by hand, with light brought along: a unit, part or cell that gets a colour, an aim or a picture and that
 * nothing lights - nothing that plays, nothing by hand - gets its level at full, and shutters that would stop it open.
 * A level by hand stays as it is, also at nothing.
 */
export function bringLight(document: Document, state: LiveState, set: HandSet): HandSet {
  let lit: LightSources | null = null;
  const next: HandSet = { ...set };
  for (const [id, values] of Object.entries(set)) {
    const lamp = lampOf(document, id);
    if (!lamp) continue;
    const { owner, unit } = lamp;
    // A part is lit by the level of its unit too.
    const levels = [values, state.hand[id as LitId], set[unit], state.hand[unit]];
    const touched = Object.keys(values).filter((key) => needsLight(key, values[key] ?? null, lamp.items));
    const dark = cellsOf(touched).filter((cell) => !levels.some((said) => hasLevel(said, cell)));
    if (dark.length === 0) continue;
    lit ??= new LightSources(document, state);
    if (lit.reach(id as LitId)) continue;
    const given = next[owner] ?? {};
    next[owner] = { ...lightFor(lamp, dark, { ...state.hand[owner], ...given }), ...given };
  }
  return next;
}

/** Light for a whole unit, or for single cells of it: cells that were not touched stay dark. */
function lightFor({ owned: items, level, ...lamp }: Lamp, touched: readonly number[], known: Some): UnitValues {
  const cells = lamp.cells ?? touched;
  const all = { ...lightValues(items, 1), ...colourless(items, known) };
  if (cells.includes(0)) return free(all, known);
  if (level.cells > 0) {
    delete all[LEVEL];
    return { ...free(all, known), ...Object.fromEntries(cells.map((cell) => [attributeKey(LEVEL, cell), 1])) };
  }
  // One level for all cells: those that were not touched rest at white, and get no colour.
  const others: UnitValues = {};
  for (const { attribute, cells: count } of items)
    if (isColour(attribute) && !(attribute in known))
      for (let cell = 1; cell <= count; cell++)
        if (!(attributeKey(attribute, cell) in known)) others[attributeKey(attribute, cell)] = 0;
  return { ...free(all, known), ...others };
}

/** Where single emitters were touched they are what is to be seen: a mixture that rests at white gives nothing. */
function colourless(items: readonly Programmable[], known: Some): UnitValues {
  const touched = Object.keys(known).filter((key) => (known[key] ?? null) !== null);
  const attributes = touched.map((key) => splitAttributeKey(key).attribute);
  if (!attributes.some(isEmitter)) return {};
  const mixed = attributes.some(isColour);
  const values: UnitValues = {};
  for (const { attribute } of items) if (isEmitter(attribute) || (!mixed && isColour(attribute))) values[attribute] = 0;
  return values;
}

const free = (values: UnitValues, known: Some): UnitValues =>
  Object.fromEntries(Object.entries(values).filter(([key]) => !(key in known) || known[key] === null));

/** Who is lit by what plays now, also if it is at nothing in this very moment (a chase, a wave). */
class LightSources {
  readonly #document: Document;
  readonly #lit = new Set<LitId>();

  constructor(document: Document, state: LiveState) {
    this.#document = document;
    for (const play of state.handEffects) this.#effect(play.spec, play.on ?? [], null);
    for (const play of state.playing) if (play.releasedAt === null) this.#play(play);
  }

  reach(id: LitId): boolean {
    const unit = litOf(this.#document, id)?.unit.id;
    return this.#lit.has(id) || (unit !== undefined && this.#lit.has(unit));
  }

  #play(play: Play): void {
    const id = recordIdOf(play.target);
    const reach = reachOf(this.#document, play.on && new Set<string>(play.on), play.areaId);
    if (id) this.#record(id, play.spec, reach, 0);
  }

  #record(id: Id, spec: EffectSpec | null, within: ReadonlySet<string> | null, depth: number): void {
    const record = this.#document.get(id);
    if (record?.kind !== 'scene' && record?.kind !== 'chase' && record?.kind !== 'effect') return;
    const reach = reachOf(this.#document, within, record.areaId);
    if (record.kind === 'effect') return this.#effect(spec ?? record, reached(this.#document, record.on, reach), reach);
    if (record.kind === 'scene') return this.#values(record.values, reach);
    for (const step of record.steps) {
      const shown = shownBy(step);
      if (!shown) this.#values(step.values ?? {}, reach);
      else if (depth < DEEPEST) this.#record(shown, null, reach, depth + 1);
    }
  }

  #effect(spec: EffectSpec | null, on: readonly LitId[], reach: ReadonlySet<string> | null): void {
    if (!spec || (spec.light === null && !spec.parts.some((p) => p.does === 'level' || p.does === 'pixels'))) return;
    for (const id of on) this.#add(id, reach);
  }

  #values(values: Readonly<Record<string, UnitValues>>, reach: ReadonlySet<string> | null): void {
    for (const [id, own] of Object.entries(values))
      if (givesLight(this.#document, id as LitId, own)) this.#add(id as LitId, reach);
  }

  #add(id: LitId, reach: ReadonlySet<string> | null): void {
    const unit = litOf(this.#document, id)?.unit.id;
    if (unit && (!reach || reach.has(id) || reach.has(unit))) this.#lit.add(id);
  }
}

/** Whether values raise the level of a unit or part, or of a cell of it. */
function givesLight(document: Document, id: LitId, values: UnitValues): boolean {
  const keys = Object.keys(values).filter(isLevel);
  if (keys.length === 0) return false;
  const plain = plainValues(document, id, Object.fromEntries(keys.map((key) => [key, values[key]!])));
  return Object.values(plain).some((value) => typeof value !== 'number' || value > 0);
}

/** Units and parts to which a scene gives a colour, an aim or a picture, but no light of its own. */
export function unlitIn(document: Document, values: Readonly<Record<string, UnitValues>>): LitId[] {
  return Object.entries(values).flatMap(([id, own]) => {
    const lamp = lampOf(document, id);
    if (!lamp || hasLevel(own) || hasLevel(values[lamp.unit])) return [];
    return Object.entries(own).some(([key, value]) => needsLight(key, value, lamp.items)) ? [id as LitId] : [];
  });
}

/** True where nothing in a scene raises a level, though it says something of units that need one. */
export const givesNoLight = (document: Document, values: Readonly<Record<string, UnitValues>>): boolean =>
  Object.keys(values).length > 0 &&
  unlitIn(document, values).length > 0 &&
  !Object.entries(values).some(([id, own]) => givesLight(document, id as LitId, own));

/**
 * Values of a scene with the light that those in it without a level have now, whoever gives it: so that it is seen alone
 * as it is seen here. `now` are values by unit as they are drawn; what is at nothing in this moment is taken as full.
 */
export function withLightOf(
  document: Document,
  values: Readonly<Record<LitId, UnitValues>>,
  now: Readonly<Record<string, UnitValues>>,
): Record<LitId, UnitValues> {
  const lit = withLight(document, values);
  for (const id of unlitIn(document, values)) {
    const { owner, owned } = lampOf(document, id)!;
    const seen = wholeOf(now[owner] ?? {}, (attribute) => owned.find((i) => i.attribute === attribute)?.cells ?? 0);
    for (const key of Object.keys(lit[owner]!).filter(isLevel)) {
      const level = seen[key];
      if (typeof level === 'number' && level > 0) lit[owner]![key] = Math.round(level * 1e4) / 1e4;
    }
  }
  return lit;
}

/** Values of a scene with light for those in it that have none. */
export function withLight(document: Document, values: Readonly<Record<LitId, UnitValues>>): Record<LitId, UnitValues> {
  const next: Record<LitId, UnitValues> = { ...values };
  for (const id of unlitIn(document, values)) {
    const lamp = lampOf(document, id)!;
    const given = next[lamp.owner] ?? {};
    next[lamp.owner] = { ...lightFor(lamp, cellsOf(Object.keys(values[id]!)), given), ...given };
  }
  return next;
}

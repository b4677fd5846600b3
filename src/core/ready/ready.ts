import { fromHex, type LinearRgb } from '../colour/convert.ts';
import { mixtureValues } from '../colour/mixture.ts';
import { recordsOf, type Document } from '../document/change.ts';
import type { LitId } from '../ids.ts';
import { attributeInfo, COLOUR_ATTRIBUTES } from '../attributes.ts';
import { isEmitter, type Programmable } from '../profile/layout.ts';
import { isColourWheel, nearestSlot } from '../profile/wheel.ts';
import { litOf } from '../patch/lit.ts';
import { specOf } from '../records/effect.ts';
import type { Channel } from '../records/profile.ts';
import type { PlainValue, UnitValues } from '../records/scene.ts';
import { PRESETS, type Preset } from './presets.ts';

/** A look that a profile gives by itself: what to set on whom. Several things that are done with one touch. */
export interface ReadyLook {
  readonly key: string;
  readonly name: string;
  readonly colour: string | null;
  /** A built-in picture, or one of a profile's own (`own:KEY`, with the profile). */
  readonly picture: { readonly name: string; readonly profileId: string } | null;
  readonly set: Readonly<Record<LitId, UnitValues>>;
}

export interface ReadySection {
  readonly key: 'level' | 'colour' | 'strobe' | 'gobo' | 'turn' | 'special' | 'moves' | 'pixels' | 'own';
  readonly title: string;
  readonly looks: readonly ReadyLook[];
  readonly presets: readonly Preset[];
}

export const SWATCHES = [
  ['Candle white', '#ffc78a'],
  ['White', '#ffffff'],
  ['Red', '#ff2a1a'],
  ['Orange', '#ff7a14'],
  ['Amber', '#ffae2e'],
  ['Green', '#1fd84a'],
  ['Turquoise', '#14e0c4'],
  ['Blue', '#1f4bff'],
  ['Violet', '#8a2bff'],
  ['Pink', '#ff4fae'],
] as const;

const LEVELS = [
  ['Full', 1],
  ['Half', 0.5],
  ['Glow', 0.15],
  ['Out', 0],
] as const;

/** Cells from which pictures on pixels are worth offering. */
const ENOUGH_PIXELS = 8;

interface Have {
  readonly id: LitId;
  readonly profileId: string;
  readonly items: readonly Programmable[];
}

/**
 * Ready controls for units of whatever kinds, made from their profiles: nothing has to be programmed. Each look says
 * what it sets on each unit that can do it; effects play on all of them.
 */
export function readyFor(document: Document, ids: readonly LitId[]): ReadySection[] {
  const have = ids.flatMap((id): Have[] => {
    const lit = litOf(document, id);
    return lit ? [{ id, profileId: lit.unit.profileId, items: lit.layout.programmable }] : [];
  });
  const has = (test: (item: Programmable) => boolean): boolean => have.some(({ items }) => items.some(test));
  const colours = have.some(({ items }) => takesColour(items));
  const levels = has((i) => i.attribute === 'Dimmer') || colours;
  const heads = has((i) => i.attribute === 'Pan' || i.attribute === 'Tilt');
  const cells = have.reduce((sum, { items }) => sum + Math.max(0, ...items.map((i) => i.cells)), 0);
  const fits: Readonly<Record<Preset['family'], boolean>> = {
    level: levels,
    colour: colours,
    aim: heads,
    pixels: cells >= ENOUGH_PIXELS,
  };
  const of = (family: Preset['family']): Preset[] => (fits[family] ? PRESETS.filter((p) => p.family === family) : []);
  const sections: ReadySection[] = [
    { key: 'level', title: 'Level', looks: levels ? levelLooks(have) : [], presets: of('level') },
    { key: 'colour', title: 'Colour', looks: colours ? colourLooks(have) : [], presets: of('colour') },
    { key: 'moves', title: 'Movement', looks: [], presets: of('aim') },
    { key: 'pixels', title: 'Pictures on pixels', looks: [], presets: of('pixels') },
    { key: 'strobe', title: 'Strobe', looks: rangeLooks(have, /^Shutter\d+$|^StrobeRate$/), presets: [] },
    { key: 'gobo', title: 'Gobo', looks: rangeLooks(have, /^(Gobo|Prism|AnimationWheel)\d+$/), presets: [] },
    { key: 'turn', title: 'Rotation', looks: rangeLooks(have, /(Rotate|WheelSpin|PosShake)$/), presets: [] },
    {
      key: 'special',
      title: 'Special',
      looks: rangeLooks(have, /^(Effects\d+|Macro\d+|ColorMacro\d+|Haze\d+|Fog\d+|Fan\d+|PositionEffect|Video)$/),
      presets: [],
    },
    { key: 'own', title: 'Of this show', looks: [], presets: ownPresets(document, fits) },
  ];
  return sections.filter(({ looks, presets }) => looks.length + presets.length > 0);
}

/** Effects that were made in this show, for others as well: those of which a part can be seen on these units. */
const ownPresets = (document: Document, fits: Readonly<Record<Preset['family'], boolean>>): Preset[] =>
  recordsOf(document, 'effect')
    .filter((effect) => effect.parts.some((part) => fits[part.does]))
    .sort((a, b) => a.number - b.number)
    .map((effect) => ({
      key: effect.id,
      name: effect.name,
      family: effect.parts[0]!.does,
      colour: effect.colour,
      spec: specOf(effect),
    }));

/** Levels; "light it" opens shutters that are closed. */
function levelLooks(have: readonly Have[]): ReadyLook[] {
  return LEVELS.map(([name, level]) => ({
    key: `level:${level}`,
    name,
    colour: null,
    picture: null,
    set: settings(have, (items) => lightValues(items, level)),
  }));
}

/** Level of a unit with everything that has to let it through. */
export function lightValues(items: readonly Programmable[], level: number): UnitValues {
  const values: UnitValues = {};
  const mixed = mixes(items);
  for (const { attribute, channel } of items) {
    if (attribute === 'Dimmer') values[attribute] = level;
    // Where there is no colour to mix, single emitters are the light itself.
    if (!mixed && level > 0 && isEmitter(attribute)) values[attribute] = 1;
    const open = channel?.ranges.find((r) => r.light === 'open');
    const closed = channel?.ranges.find((r) => r.light === 'closed');
    if (open && closed) values[attribute] = { range: (level > 0 ? open : closed).name, at: 0.5 };
  }
  return values;
}

const mixes = (items: readonly Programmable[]): boolean => items.some((i) => i.attribute === COLOUR_ATTRIBUTES[0]);
const isWheel = ({ attribute, channel }: Programmable): boolean => isColourWheel(attribute, channel);

/** Whether a unit takes a colour at all: by mixing, or by the nearest slot of a wheel. */
export const takesColour = (items: readonly Programmable[]): boolean => mixes(items) || items.some(isWheel);

/** A colour for a unit: as a mixture, or as the nearest slot of its wheel; nothing where it has neither. */
export function colourValues(items: readonly Programmable[], colour: LinearRgb): UnitValues {
  if (mixes(items)) return mixtureValues(colour);
  const wheel = items.find(isWheel);
  return wheel ? { [wheel.attribute]: { range: nearestSlot(wheel.channel!, colour)!.name, at: 0.5 } } : {};
}

const colourLooks = (have: readonly Have[]): ReadyLook[] =>
  SWATCHES.map(([name, hex]) => ({
    key: `colour:${hex}`,
    name,
    colour: hex,
    picture: null,
    set: settings(have, (items) => colourValues(items, fromHex(hex))),
  }));

/** What is set on each unit; those on which nothing is are left out. */
const settings = (have: readonly Have[], of: (items: readonly Programmable[]) => UnitValues): ReadyLook['set'] =>
  Object.fromEntries(
    have.flatMap(({ id, items }) => {
      const values = of(items);
      return Object.keys(values).length > 0 ? [[id, values]] : [];
    }),
  );

/** Ranges of more than this many values go from slow to fast: three places in them are offered. */
const LONG_RANGE = 12;

/** What channels offer by range; the same range of several profiles is one look. */
function rangeLooks(have: readonly Have[], attributes: RegExp): ReadyLook[] {
  const found = new Map<string, { look: ReadyLook; set: Record<LitId, UnitValues> }>();
  const add = (have: Have, channel: Channel, attribute: string, name: string, value: PlainValue, at: number): void => {
    const range = channel.ranges.find((r) => typeof value === 'object' && r.name === value.range)!;
    const key = `${attribute}:${range.name}:${at}`;
    let entry = found.get(key);
    if (!entry) {
      const set: Record<LitId, UnitValues> = {};
      const picture = range.picture ? { name: range.picture, profileId: have.profileId } : null;
      entry = { set, look: { key, name, colour: range.colour ?? null, picture, set } };
      found.set(key, entry);
    }
    entry.set[have.id] = { ...entry.set[have.id], [attribute]: value };
  };
  for (const one of have)
    for (const { attribute, channel } of one.items) {
      if (!channel || !attributes.test(attribute)) continue;
      for (const range of channel.ranges) {
        const long = range.to - range.from >= LONG_RANGE && (range.light ?? 'strobe') === 'strobe';
        const places: [at: number, words: string][] = long
          ? [
              [0.15, range.name.replace(/ ?(slow to fast|fast to slow)$/i, '') + ' 1'],
              [0.5, range.name.replace(/ ?(slow to fast|fast to slow)$/i, '') + ' 2'],
              [0.85, range.name.replace(/ ?(slow to fast|fast to slow)$/i, '') + ' 3'],
            ]
          : [[0.5, range.name]];
        for (const [at, words] of places) {
          const single = attributeInfo(attribute)?.words ?? attribute;
          const name = words.trim().length > 0 ? words : single;
          add(one, channel, attribute, name, { range: range.name, at }, at);
        }
      }
    }
  return [...found.values()].map(({ look }) => look).slice(0, 60);
}

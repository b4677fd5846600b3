import { fromHex, type LinearRgb } from '../../colour/convert.ts';
import { COLOUR_ATTRIBUTES, splitAttributeKey } from '../../attributes.ts';
import { EMITTER_COLOURS } from '../../patch/readout.ts';
import { isColourWheel } from '../../profile/wheel.ts';
import type { Channel } from '../../records/profile.ts';
import type { AttributeSlot } from './piece.ts';

/** A slot that opens and closes, or that colours the beam, with the channel that says what its values do. */
export interface GateSlot {
  readonly slot: number;
  readonly channel: Channel;
}

/**
 * One lamp: a cell that gives light, or a unit without cells. Slots count from 0 within the unit, -1 for none: its
 * level, the first of its three colours. `special` is what else decides its light; null for plain pixels and dimmers.
 */
export interface LampParts {
  readonly level: number;
  readonly colour: number;
  readonly special: LampSpecial | null;
}

export interface LampSpecial {
  /** White that adds to the mixed colour where it is more than the colour's own; -1 for none. */
  readonly white: number;
  readonly emitters: readonly { readonly slot: number; readonly colour: LinearRgb }[];
  readonly gates: readonly GateSlot[];
  readonly wheel: GateSlot | null;
  /** Colour of the light where nothing mixes it. */
  readonly gel: LinearRgb;
}

const WHITE: LinearRgb = { r: 1, g: 1, b: 1 };
const isGate = ({ attribute, ranges }: Channel): boolean =>
  /^Shutter\d+$/.test(attribute) && ranges.some((r) => r.light === 'closed');

type Named = readonly { readonly attribute: string; readonly own: AttributeSlot }[];

/** The lamps of a unit, from its attribute slots by key. Linear in the slots. */
export function lampParts(slots: ReadonlyMap<string, AttributeSlot>, cells: number, gel: string | null): LampParts[] {
  const byCell = new Map<number, { attribute: string; own: AttributeSlot }[]>();
  for (const [key, own] of slots) {
    const { attribute, cell } = splitAttributeKey(key);
    const list = byCell.get(cell);
    if (list) list.push({ attribute, own });
    else byCell.set(cell, [{ attribute, own }]);
  }
  const gelled = gel ? fromHex(gel) : null;
  const base = partsOf(byCell.get(0) ?? [], gelled);
  const found: LampParts[] = [];
  for (let cell = 1; cell <= cells; cell++) {
    const own = partsOf(byCell.get(cell) ?? [], gelled);
    if (givesLight(own)) found.push(withWhole(own, base));
  }
  const shines = base.colour >= 0 || (base.special?.emitters.length ?? 0) > 0 || base.special?.wheel;
  if (found.length === 0 ? givesLight(base) : shines) found.push(base);
  return found;
}

const givesLight = ({ level, colour, special }: LampParts): boolean =>
  level >= 0 || colour >= 0 || (special !== null && (special.emitters.length > 0 || special.gates.length > 0));

/** A cell under what the whole unit has: its level where the cell has none, and its shutters. */
function withWhole(cell: LampParts, whole: LampParts): LampParts {
  const level = cell.level < 0 ? whole.level : cell.level;
  const gates = [...(whole.special?.gates ?? []), ...(cell.special?.gates ?? [])];
  if (cell.special === null && gates.length === 0) return level === cell.level ? cell : { ...cell, level };
  const special = cell.special ?? { white: -1, emitters: [], gates: [], wheel: null, gel: WHITE };
  return { level, colour: cell.colour, special: { ...special, gates } };
}

function partsOf(named: Named, gel: LinearRgb | null): LampParts {
  let [level, colour, ownWhite] = [-1, -1, -1];
  const emitters: LampSpecial['emitters'][number][] = [];
  const gates: GateSlot[] = [];
  let wheel: GateSlot | null = null;
  for (const { attribute, own } of named) {
    const { slot, channel } = own;
    const shines = EMITTER_COLOURS[attribute];
    if (attribute === 'Dimmer') level = slot;
    else if (attribute === COLOUR_ATTRIBUTES[0]) colour = slot;
    else if (attribute === 'ColorAdd_W') ownWhite = slot;
    else if (shines) emitters.push({ slot, colour: shines });
    else if (channel && isGate(channel)) gates.push({ slot, channel });
    else if (channel && !wheel && isColourWheel(attribute, channel)) wheel = { slot, channel };
  }
  // White beside a mixed colour takes what the three have in common; alone it is an emitter like any other.
  if (ownWhite >= 0 && colour < 0) emitters.push({ slot: ownWhite, colour: WHITE });
  const white = colour < 0 ? -1 : ownWhite;
  const tinted = gel !== null && colour < 0;
  const plain = white < 0 && emitters.length === 0 && gates.length === 0 && !wheel && !tinted;
  return { level, colour, special: plain ? null : { white, emitters, gates, wheel, gel: gel ?? WHITE } };
}

import { bad, good, shorten, type Fault, type Result } from '../faults.ts';
import { MAX_SLOTS, MAX_UNIVERSE, type AbsoluteChannel, type Address, type Universe } from '../units.ts';

export type SlotsPerUniverse = 510 | 512;

/** A universe and an address in it. Shown to people as `universe.address`, as in `3.145`. */
export interface Place {
  readonly universe: Universe;
  readonly address: Address;
}

/** Consecutive slots of one universe, both ends included. */
export interface Span {
  readonly universe: number;
  readonly from: number;
  readonly to: number;
}

const fault = (code: string, message: string, received: unknown, remedy: string): Fault => ({
  code,
  message,
  path: 'address',
  received: shorten(received),
  remedy,
});

const PAIR = /^(\d+)\s*[./:]\s*(\d+)$/;
/** `U1/100`, `Universe 1 address 100`, `Uni 3 ch 12`. */
const WORDED =
  /^u(?:ni(?:v(?:erse)?)?)?\.?\s*(\d+)\s*[./:,\s-]\s*(?:ch(?:an(?:nel)?)?|a(?:ddr(?:ess)?)?|slot|dmx)?\.?\s*(\d+)$/i;
const SINGLE = /^\d+$/;
const WAYS = 'Write universe.address such as 3.145 (also 3/145 or 3:145), or an absolute channel such as 1169.';

/**
 * Reads an address as people write it: `3.145`, `3/145`, `3:145`, `U3/145`, or an absolute channel counted through universes
 * of `slotsPerUniverse`; spaces around and between (a spreadsheet cell) do no harm.
 */
export function parseAddress(text: string, slotsPerUniverse: SlotsPerUniverse = 512): Result<Place> {
  const trimmed = text.replace(/[\u00a0\u2007\u202f]/g, ' ').trim();
  const pair = PAIR.exec(trimmed) ?? WORDED.exec(trimmed);
  if (pair) return makePlace(Number(pair[1]), Number(pair[2]), text, slotsPerUniverse);
  const joined = trimmed.replace(/(?<=\d) (?=\d{3}\b)/g, '');
  if (SINGLE.test(joined)) {
    const place = fromAbsolute(Number(joined), slotsPerUniverse);
    return place ? good(place) : bad(absoluteFault(Number(joined), slotsPerUniverse, text));
  }
  if (/^[-\u2212]\s*\d/.test(trimmed))
    return bad(
      fault('ADDRESS_NEGATIVE', `"${shorten(trimmed)}" is negative`, text, 'Addresses and channels count from 1.'),
    );
  if (trimmed === '') return bad(fault('ADDRESS_EMPTY', 'there is no address', text, WAYS));
  if (/^\d+\s*,\s*\d+$/.test(trimmed))
    return bad(
      fault(
        'ADDRESS_COMMA',
        `"${shorten(trimmed)}" has a comma`,
        text,
        `Write a point: ${trimmed.replace(/\s*,\s*/, '.')}.`,
      ),
    );
  return bad(fault('ADDRESS_UNREADABLE', `"${shorten(trimmed)}" is not an address`, text, WAYS));
}

function makePlace(universe: number, address: number, received: unknown, slots: SlotsPerUniverse): Result<Place> {
  if (universe < 1 || universe > MAX_UNIVERSE)
    return bad(
      fault(
        'UNIVERSE_RANGE',
        `universe ${universe} does not exist`,
        received,
        `Give a universe from 1 to ${MAX_UNIVERSE}.`,
      ),
    );
  if (address < 1 || address > slots)
    return bad(
      fault(
        'ADDRESS_RANGE',
        `address ${address} does not exist in a universe of ${slots} slots`,
        received,
        `Give an address from 1 to ${slots}.`,
      ),
    );
  return good({ universe: universe as Universe, address: address as Address });
}

const absoluteFault = (value: number, slots: SlotsPerUniverse, received: unknown): Fault =>
  fault('ABSOLUTE_RANGE', `absolute channel ${value} does not exist`, received, `Give 1 to ${MAX_UNIVERSE * slots}.`);

export const formatAddress = (universe: number, address: number): string => `${universe}.${address}`;

/** `3.145-152`; a span of one slot is `3.145`. */
export const formatSpan = (span: Span): string =>
  span.from === span.to ? `${span.universe}.${span.from}` : `${span.universe}.${span.from}-${span.to}`;

/** Absolute channel = (universe - 1) x slots per universe + address; null where the address is beyond those slots. */
export function toAbsolute(
  universe: number,
  address: number,
  slotsPerUniverse: SlotsPerUniverse,
): AbsoluteChannel | null {
  if (address > slotsPerUniverse) return null;
  return ((universe - 1) * slotsPerUniverse + address) as AbsoluteChannel;
}

/** The place of an absolute channel, or null when it lies outside universes 1-63999. */
export function fromAbsolute(absolute: number, slotsPerUniverse: SlotsPerUniverse): Place | null {
  if (!Number.isSafeInteger(absolute) || absolute < 1 || absolute > MAX_UNIVERSE * slotsPerUniverse) return null;
  return {
    universe: (Math.floor((absolute - 1) / slotsPerUniverse) + 1) as Universe,
    address: (((absolute - 1) % slotsPerUniverse) + 1) as Address,
  };
}

/** DIP switches that are on for an address: switch k (1-9) is worth 2^(k-1). Units that count from 0 show one less. */
export function dipSwitches(address: number, countsFromZero = false): number[] {
  const value = countsFromZero ? address - 1 : address;
  const on: number[] = [];
  for (let k = 1; k <= 9; k++) if (value & (1 << (k - 1))) on.push(k);
  return on;
}

/** The address that switches stand for; null where it is not 1-512 (all off on a unit that counts from 1). */
export function fromDipSwitches(on: readonly number[], countsFromZero = false): Address | null {
  let value = 0;
  for (const k of on) {
    if (!Number.isInteger(k) || k < 1 || k > 9) return null;
    value |= 1 << (k - 1);
  }
  const address = countsFromZero ? value + 1 : value;
  return address >= 1 && address <= MAX_SLOTS ? (address as Address) : null;
}

/** First address of unit number n of a pack with this many circuits: circuits x (n - 1) + 1. */
export const unitNumberToAddress = (n: number, circuits: number): number => circuits * (n - 1) + 1;

/** The unit number for an address, or null when the address is not the first of a unit number. */
export const addressToUnitNumber = (address: number, circuits: number): number | null =>
  (address - 1) % circuits === 0 ? (address - 1) / circuits + 1 : null;

/**
 * The spans a footprint takes. A fixture stays in its universe and may run past the end (`to` beyond the slots: that
 * is an overrun, not hidden here). A unit that flows goes on at slot 1 of the next universe; with `cellFootprint`
 * above 0 a cell that would be split moves on whole.
 */
export function spansOf(
  place: { universe: number; address: number },
  footprint: number,
  options: { flow: boolean; slotsPerUniverse: SlotsPerUniverse; cellFootprint?: number },
): Span[] {
  const { universe, address } = place;
  if (footprint <= 0) return [];
  if (!options.flow) return [{ universe, from: address, to: address + footprint - 1 }];
  const spans: Span[] = [];
  const unit = Math.max(1, options.cellFootprint ?? 1);
  let u = universe;
  let from = address;
  let left = footprint;
  while (left > 0) {
    const room = Math.max(0, options.slotsPerUniverse - from + 1);
    const take = left <= room ? left : Math.floor(room / unit) * unit;
    if (take > 0) spans.push({ universe: u, from, to: from + take - 1 });
    left -= take;
    u++;
    from = 1;
  }
  return spans;
}

/**
 * The slot `gap` slots after the one that follows a span; past the end it goes on in the next universe. What runs past
 * the end itself takes nothing of the next universe, so there it goes on at its first slot.
 */
export function slotAfter(
  last: Span,
  gap: number,
  slotsOf: (universe: number) => SlotsPerUniverse,
): { universe: number; address: number } {
  let universe = last.universe;
  let address = Math.min(last.to, slotsOf(universe)) + 1 + gap;
  for (let slots = slotsOf(universe); address > slots; slots = slotsOf(universe)) {
    universe++;
    address -= slots;
  }
  return { universe, address };
}

/** The span that ends last; null of none. */
export const lastOf = (spans: readonly Span[]): Span | null =>
  spans.reduce<Span | null>(
    (a, b) => (!a || b.universe > a.universe || (b.universe === a.universe && b.to > a.to) ? b : a),
    null,
  );

/** The signed number of slots from one place to another, counted through universes of `slotsPerUniverse`. */
export const slotsBetween = (
  from: { universe: number; address: number },
  to: { universe: number; address: number },
  slotsPerUniverse: SlotsPerUniverse,
): number => (to.universe - from.universe) * slotsPerUniverse + to.address - from.address;

import { MAX_UNIVERSE } from '../units.ts';
import { lastOf, slotAfter, type SlotsPerUniverse, type Span } from './address.ts';
import type { PatchedUnit } from './of-document.ts';

export interface SlotPlace {
  readonly universe: number;
  readonly address: number;
}

export interface PlaceOptions {
  readonly start?: SlotPlace;
  /** Slots left free after each. */
  readonly gap?: number;
  /** Every address is the first of a block of so many slots (1, 21, 41 ... for 20): for desks with fixed blocks. */
  readonly block?: number;
  readonly slotsOf: (universe: number) => SlotsPerUniverse;
  /** Slots that are not to be used, sorted and merged (`takenSpans`). */
  readonly taken: ReadonlyMap<number, readonly { readonly from: number; readonly to: number }[]>;
}

/** What is laid down: what it would take if it started at a place, all slots that move with it. */
export interface Footprint {
  readonly spans: (place: SlotPlace) => readonly Span[];
  /**
   * Slots of one pixel of what flows on into the next universe: it is started where no pixel is parted by the end of a
   * universe, as far as that can be. 1 or less: nothing that could be parted.
   */
  readonly cell: number;
}

/**
 * Lays things one after the other into free slots, from `start` on, each whole: a gap is used when it takes all of it,
 * a universe that has no more room is left for the next. Null for a thing that fits nowhere before universe 63999.
 */
export function placeRun(things: readonly Footprint[], options: PlaceOptions): (SlotPlace | null)[] {
  const { slotsOf, gap = 0, block = 0 } = options;
  let at: SlotPlace = options.start ?? { universe: 1, address: 1 };
  return things.map((thing) => {
    const found = firstFit(thing, at, block, options);
    if (!found) return null;
    const { place, spans } = found;
    at = slotAfter(lastOf(spans)!, gap, slotsOf);
    return place;
  });
}

function firstFit(
  thing: Footprint,
  start: SlotPlace,
  block: number,
  { slotsOf, taken }: PlaceOptions,
): { place: SlotPlace; spans: readonly Span[] } | null {
  let at = start;
  while (at.universe <= MAX_UNIVERSE) {
    const aligned = block > 1 ? Math.ceil((at.address - 1) / block) * block + 1 : at.address;
    const place =
      aligned > slotsOf(at.universe)
        ? { universe: at.universe + 1, address: 1 }
        : { universe: at.universe, address: aligned };
    if (place.universe > MAX_UNIVERSE) return null;
    const spans = thing.spans(place);
    if (spans.length === 0) return null;
    if (spans.some((s) => s.to > slotsOf(s.universe) || s.universe > MAX_UNIVERSE)) {
      if (place.address === 1) return null;
      at = { universe: place.universe + 1, address: 1 };
      continue;
    }
    const [first] = spans;
    const room = first!.to - first!.from + 1;
    if (spans.length > 1 && place.address > 1 && thing.cell > 1 && room % thing.cell !== 0) {
      at = { universe: place.universe + 1, address: 1 };
      continue;
    }
    const blocker = firstBlocker(spans, taken);
    if (!blocker) return { place, spans };
    at = { universe: blocker.universe, address: blocker.to + 1 };
  }
  return null;
}

/** The end of the first taken run that one of the spans meets. */
function firstBlocker(spans: readonly Span[], taken: PlaceOptions['taken']): { universe: number; to: number } | null {
  for (const span of spans) {
    const list = taken.get(span.universe) ?? [];
    let [low, high] = [0, list.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (list[middle]!.to < span.from) low = middle + 1;
      else high = middle;
    }
    const found = list[low];
    if (found && found.from <= span.to) return { universe: span.universe, to: found.to };
  }
  return null;
}

/** The slot after the very last one that is taken: where "after the last" begins. */
export function afterLast(units: Iterable<PatchedUnit>, slotsOf: (universe: number) => SlotsPerUniverse): SlotPlace {
  const last = lastOf([...units].flatMap((unit) => unit.spans));
  return last ? slotAfter(last, 0, slotsOf) : { universe: 1, address: 1 };
}

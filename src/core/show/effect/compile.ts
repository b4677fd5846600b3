import { fromHex } from '../../colour/convert.ts';
import type { Document } from '../../document/change.ts';
import type { LitId } from '../../ids.ts';
import type { AimPart, EffectPart, EffectSpec } from '../../records/effect.ts';
import type { CompiledRig } from '../rig/rig.ts';
import { ENDLESS, type Span } from '../play/span.ts';
import { colourTable, hueTable } from './colour-tables.ts';
import { ringOf } from './colours.ts';
import { walkersOf, walks, type Walker } from './walkers.ts';
import { elementsOf, type Elements, type Head } from './elements.ts';
import { orderOf } from './order.ts';
import { pathTable } from './paths.ts';
import type { Drawing } from './combine.ts';
import { sparkleOf, type Sparkle } from './levels.ts';
import { isRinged, pixelField, type PixelField } from './pixels.ts';
import { isStraight } from './straight.ts';

/** One part of an effect against one rig: how far each element is behind (in turns), and its tables. */
export interface EffectPartProgram {
  readonly part: EffectPart;
  readonly behind: Float32Array;
  readonly index: Int32Array;
  /** Places 0-1 in the order, where the part needs them besides. */
  readonly at: Float32Array;
  /** Colours (three each), the colour circle, or a path. */
  readonly table: Float32Array;
  readonly field: PixelField | null;
  readonly sparkle: Sparkle | null;
  /** Heads that move round places, as `heads` of the effect; null where none has to know where it is. */
  readonly walkers: readonly (Walker | null)[] | null;
}

/** An effect against one rig. `light`, `rgb` and `own` (of one part) are room to work in: written anew in every frame. */
export interface EffectProgram extends Span {
  readonly type: 'effect';
  readonly baseLight: number | null;
  readonly levels: EffectSpec['levels'];
  readonly elements: Elements;
  readonly parts: readonly EffectPartProgram[];
  readonly doesLevel: boolean;
  readonly doesColour: boolean;
  /** Light that belongs into the colours of elements without a level of their own. */
  readonly folds: boolean;
  readonly heads: readonly Head[];
  readonly light: Float32Array;
  readonly rgb: Float32Array;
  readonly own: Drawing;
  /** 1 where the level by hand holds and the effect only scales it; null for an effect that nobody has by hand. */
  readonly scaled: Uint8Array | null;
  /** Drawn into the frame without rows in between (see `isStraight`). */
  readonly straight: boolean;
}

type Playing = Pick<Span, 'priority' | 'fadeInMs' | 'fadeOutMs'>;

/** Compiles an effect on these units and parts. `byHand`: attribute slots that have a value by hand. */
export function compileEffect(
  rig: CompiledRig,
  document: Document,
  spec: EffectSpec,
  ids: readonly LitId[],
  playing: Playing,
  byHand: ReadonlySet<number> | null = null,
): EffectProgram {
  const elements = elementsOf(rig, document, ids);
  const does = (...kinds: EffectPart['does'][]): boolean => spec.parts.some((part) => kinds.includes(part.does));
  const { priority, fadeInMs, fadeOutMs } = playing;
  const doesLevel = spec.light !== null || does('level', 'pixels');
  const program: Omit<EffectProgram, 'straight'> = {
    ...ENDLESS,
    type: 'effect',
    priority,
    fadeInMs,
    fadeOutMs,
    rate: spec.rate,
    beats: spec.beats,
    baseLight: spec.light,
    levels: spec.levels,
    elements,
    parts: spec.parts.map((part) => compilePart(document, elements, part)),
    doesLevel,
    doesColour: does('colour', 'pixels'),
    folds: doesLevel && elements.level.some((slot) => slot < 0),
    heads: does('aim') ? elements.heads : [],
    light: new Float32Array(elements.count),
    rgb: new Float32Array(elements.count * 3),
    own: { light: new Float32Array(elements.count), rgb: new Float32Array(elements.count * 3) },
    scaled: byHand && Uint8Array.from(elements.level, (slot) => (byHand.has(slot) ? 1 : 0)),
  };
  return { ...program, straight: isStraight(program) };
}

function compilePart(document: Document, elements: Elements, part: EffectPart): EffectPartProgram {
  // Heads move one by one, and pixels are placed by the plot.
  const { at, index, count } = orderOf(elements, part.does === 'aim' ? { ...part, each: 'unit' } : part);
  const behind = Float32Array.from(at, (place) => part.spread * place - part.phase);
  const ordered = { part, behind, index, at, field: null, sparkle: null, walkers: null };
  switch (part.does) {
    case 'level':
      return {
        ...ordered,
        table: new Float32Array(0),
        sparkle: part.wave === 'sparkle' ? sparkleOf(part, elements.count) : null,
      };
    case 'colour': {
      const colours = part.way === 'hue' ? hueTable(part.size) : colourTable(document, part.colours);
      return { ...ordered, table: part.way === 'gradient' ? ringOf(colours) : colours };
    }
    case 'aim':
      return {
        ...ordered,
        at: sides(part, at, index, count),
        table: pathTable(part),
        walkers: walks(part)
          ? walkersOf(
              document,
              part,
              elements.heads.map(({ id }) => id),
            )
          : null,
      };
    case 'pixels': {
      const colours = colourTable(document, part.colours);
      return {
        ...ordered,
        table: isRinged(part) ? ringOf(colours) : colours,
        field: pixelField(elements, part),
      };
    }
  }
}

/**
 * What a head does with the pan of the path: `fan` opens from -1 for the first to 1 for the last, `cross` turns every
 * other one round, a mirrored part its second half.
 */
function sides(part: AimPart, at: Float32Array, index: Int32Array, count: number): Float32Array {
  return Float32Array.from(at, (_, i) => {
    const place = count > 1 ? (2 * index[i]!) / (count - 1) - 1 : 0;
    if (part.path === 'fan') return place;
    if (part.path === 'cross') return index[i]! % 2 === 0 ? 1 : -1;
    return part.mirror && place > 0 ? -1 : 1;
  });
}

/** A colour that stands for an effect: the first of its own. */
export function effectColour(spec: EffectSpec): string | null {
  for (const part of spec.parts) {
    const own = 'colours' in part && !(part.does === 'colour' && part.way === 'hue') ? part.colours[0] : null;
    if (own?.startsWith('#') && fromHex(own).r + fromHex(own).g + fromHex(own).b > 0.05) return own;
  }
  return null;
}

import { documentOf, type Document } from '../src/core/document/change.ts';
import { make, type AnyRecord, type EffectRecord } from '../src/core/records/index.ts';
import { propSchema } from '../src/core/records/prop.ts';
import { PIXELS } from '../tests/support/rig.ts';

const ROW = 500;

/** Walls of 500 cells, three universes each, a metre apart. */
const walls = (cells: number): AnyRecord[] =>
  Array.from({ length: Math.ceil(cells / ROW) }, (_, i) =>
    make('unit', {
      id: `unit:w${i}`,
      number: i + 1,
      name: `Wall ${i + 1}`,
      profileId: 'profile:px',
      mode: 'px',
      patch: { universe: 1 + i * 3, address: 1 },
      position: { x: (i % 20) * 2, y: Math.floor(i / 20), z: 1 },
      prop: propSchema.parse({ shape: { shape: 'matrix', columns: 25, rows: 20, widthM: 1, heightM: 1 } }),
    }),
  );

type Part = Partial<EffectRecord['parts'][number]> & { readonly does: string };
const effects = (cells: number, mixed: boolean): AnyRecord[] => {
  const on = Array.from({ length: Math.ceil(cells / ROW) }, (_, i) => `unit:w${i}`);
  const effect = (n: number, part: Part, fields: object = {}): AnyRecord =>
    make('effect', {
      id: `effect:e${n}`,
      number: n,
      name: `E${n}`,
      rate: 0.4,
      fadeInMs: 0,
      on,
      parts: [part],
      ...fields,
    } as never);
  return [
    effect(1, { does: 'colour', way: 'hue', spread: 2 }, { light: 1 }),
    effect(2, { does: 'level', wave: 'sparkle', width: 0.4 }, mixed ? { levels: 'scale' } : {}),
    effect(
      3,
      { does: 'pixels', pattern: 'plasma', colours: ['#ff2a1a', '#ffb347', '#1f4bff'], repeat: 4 },
      mixed ? { fadeInMs: 3_600_000 } : {},
    ),
    effect(
      4,
      { does: 'pixels', pattern: 'comet', repeat: 1, width: 0.5 },
      mixed ? { priority: 150, levels: 'highest' } : {},
    ),
  ];
};

/**
 * So many cells under four whole-rig effects. Covering: the last lies over all the others, as people often play them.
 * `mixed`: none hides another: one scales, one is in the middle of its fade, one has a higher rank.
 */
export const wallShow = (cells: number, mixed: boolean): Document =>
  documentOf([make('show', { id: 'show:bench', name: 'Bench' }), PIXELS, ...walls(cells), ...effects(cells, mixed)]);

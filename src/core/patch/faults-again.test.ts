import assert from 'node:assert/strict';
import { test } from 'node:test';
import { applyChange, documentOf, recordsOf, type Document } from '../document/change.ts';
import { seeded } from '../random.ts';
import { make, type AnyRecord, type UnitRecord } from '../records/index.ts';
import { showWith, units } from '../../../tests/support/rig.ts';
import { patchFaults } from './faults.ts';

/** The same show of other objects: nothing that was kept of the first is known for it. */
const anew = (document: Document): Document => documentOf([...document.values()].map((r) => structuredClone(r)));

test('after an edit what is wrong is what a fresh look finds, however few universes are looked at again', () => {
  const chance = seeded(11);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  const output = make('output', { id: 'output:o', name: 'O', protocol: 'sacn', destinations: ['127.0.0.9'] });
  const route = (n: number, universe: number): AnyRecord =>
    make('route', { id: `route:r${n}`, universe, outputId: output.id, wireUniverse: universe });
  let document = applyChange(
    showWith(
      ...units(
        ...Array.from({ length: 60 }, (_, i) => ({
          slug: `u${i}`,
          profile: i % 3 === 0 ? 'quillon-stave16' : 'generic-dimmer',
          mode: i % 3 === 0 ? '50ch' : '1ch',
          universe: 1 + (i % 4),
          address: 1 + ((i * 37) % 400),
        })),
      ),
    ),
    { put: [output, route(1, 1), route(2, 2), route(3, 3)], remove: [] },
  );
  const other = anew(document);
  for (let round = 0; round < 300; round++) {
    const unit = pick(recordsOf(document, 'unit'));
    const edits: (() => AnyRecord[])[] = [
      () => [{ ...unit, patch: { universe: 1 + Math.floor(chance() * 6), address: 1 + Math.floor(chance() * 512) } }],
      () => [{ ...unit, patch: null }],
      () => [{ ...unit, number: 1 + Math.floor(chance() * 70) }],
      () => [{ ...unit, relation: { after: pick(recordsOf(document, 'unit')).id, gap: 0 } } as UnitRecord],
      () => [{ ...unit, relation: null, expectedEnd: { universe: 1, address: 20 } }],
      () => [
        { ...route(1 + Math.floor(chance() * 4), 1 + Math.floor(chance() * 4)), enabled: chance() < 0.7 } as AnyRecord,
      ],
      () => [{ ...output, slotsPerUniverse: chance() < 0.5 ? 510 : 512 } as AnyRecord],
      () => recordsOf(document, 'unit').map((u) => ({ ...u, name: `${u.name}.` })),
    ];
    document = applyChange(document, { put: pick(edits)(), remove: [] });
    // Now and then somebody asks about another show in between.
    if (chance() < 0.2) patchFaults(applyChange(other, { put: [{ ...output, name: `O${round}` }], remove: [] }));
    assert.deepEqual(patchFaults(document), patchFaults(anew(document)), `round ${round}`);
  }
});

import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { scene, showWith, units, type UnitRow } from '../../../tests/support/rig.ts';
import { applyChange, getRecord, reverseOf, type Document } from '../document/change.ts';
import { changeFaults } from '../rules/faults.ts';
import type { UnitId } from '../ids.ts';
import { make } from '../records/index.ts';
import { UNIT_ORDERS, type UnitOrder } from '../records/group.ts';
import { compileRig, compilePlay, initialLive, makeFrame, newPlay, prepareLive, render } from '../show/index.ts';
import { patchFaults } from './faults.ts';
import { patchOf, placeOf } from './of-document.ts';
import { orderUnits } from './order.ts';
import { packUnits, shiftPlace, shiftUnits } from './pack.ts';
import { spansOf } from './address.ts';
import { placeRun, type Footprint } from './place.ts';

const MODES = [
  ['generic-dimmer', '1ch'],
  ['fernlight-plumlet', '7ch'],
  ['quillon-heron', '16ch'],
  ['quillon-stave16', '50ch'],
] as const;
const at = (document: Document, id: UnitId): string => {
  const place = placeOf(patchOf(document).get(id));
  return place ? `${place.universe}.${place.address}` : 'nowhere';
};
const overlapping = (document: Document): string[] =>
  patchFaults(document).flatMap((c) =>
    c.code === 'OVERLAP' || c.code === 'OVERRUN' ? [`${c.unitId} ${c.message}`] : [],
  );

/** Any rig: units of several sizes, here and there, some chained after or twins of earlier ones (one after each). */
const anyRows = fc.array(
  fc.record({
    mode: fc.nat(MODES.length - 1),
    universe: fc.integer({ min: 1, max: 3 }),
    address: fc.integer({ min: 1, max: 512 }),
    x: fc.integer({ min: -5, max: 5 }),
    y: fc.integer({ min: -2, max: 2 }),
    link: fc.constantFrom('none', 'none', 'none', 'after', 'twin'),
    to: fc.nat(),
    gap: fc.nat(5),
  }),
  { minLength: 1, maxLength: 24 },
);
type Rows = typeof anyRows extends fc.Arbitrary<infer T> ? T : never;

function rigOf(rows: Rows): Document {
  const followed = new Set<number>();
  const modes: number[] = [];
  const originals: number[] = [];
  const list = rows.map((row, i): UnitRow => {
    const to = i === 0 ? 0 : row.to % i;
    const twin = i > 0 && row.link === 'twin';
    originals[i] = twin ? originals[to]! : i;
    const after = i > 0 && row.link === 'after' && !followed.has(originals[to]!);
    if (after) followed.add(originals[to]!);
    modes[i] = twin ? modes[to]! : row.mode;
    const [profile, mode] = MODES[modes[i]]!;
    const relation = twin
      ? { twinOf: `unit:u${to}` as const }
      : after
        ? { after: `unit:u${to}` as const, gap: row.gap }
        : null;
    const { universe, address, x, y } = row;
    return { slug: `u${i}`, profile, mode, universe, address, fields: { position: { x, y, z: 0 }, relation } };
  });
  return showWith(...units(...list));
}
const anyIds = (document: Document, picks: readonly number[]): UnitId[] => {
  const ids = [...document.values()].flatMap((r) => (r.kind === 'unit' ? [r.id] : []));
  return [...new Set(picks.map((p) => ids[p % ids.length]!))];
};
const anyOptions = fc.record({
  order: fc.constantFrom<UnitOrder>(...UNIT_ORDERS),
  universe: fc.integer({ min: 1, max: 3 }),
  address: fc.integer({ min: 1, max: 512 }),
  gap: fc.nat(7),
  block: fc.constantFrom(0, 0, 16, 32, 64),
});

describe('packing', () => {
  test('never lays a moved unit over anything', () => {
    fc.assert(
      fc.property(anyRows, fc.array(fc.nat(), { minLength: 1, maxLength: 30 }), anyOptions, (rows, picks, o) => {
        const show = rigOf(rows);
        const packing = packUnits(show, anyIds(show, picks), { ...o, start: o });
        assert.deepEqual(changeFaults(show, packing.change), []);
        const after = applyChange(show, packing.change);
        const moved = new Set([...packing.moves.map((m) => m.unit.id), ...packing.change.put.map((u) => u.id)]);
        const stuck = new Set(packing.unplaced.map((u) => u.id));
        const wrong = patchFaults(after).filter(
          (c) => (c.code === 'OVERLAP' || c.code === 'OVERRUN') && moved.has(c.unitId) && !stuck.has(c.unitId),
        );
        assert.deepEqual(wrong, []);
      }),
      { numRuns: 300 },
    );
  });

  test('taken back is as if it had never been', () => {
    fc.assert(
      fc.property(anyRows, fc.array(fc.nat(), { minLength: 1, maxLength: 30 }), anyOptions, (rows, picks, o) => {
        const show = rigOf(rows);
        const { change } = packUnits(show, anyIds(show, picks), { ...o, start: o });
        const back = applyChange(applyChange(show, change), reverseOf(show, change));
        for (const [id, record] of show) assert.deepEqual(back.get(id), record);
        assert.equal(back.size, show.size);
      }),
      { numRuns: 100 },
    );
  });

  test('keeps twins together and chains in their order', () => {
    fc.assert(
      fc.property(anyRows, anyOptions, (rows, o) => {
        const show = rigOf(rows);
        const all = anyIds(
          show,
          Array.from({ length: 60 }, (_, i) => i),
        );
        const after = applyChange(show, packUnits(show, all, { ...o, start: o }).change);
        for (const record of after.values()) {
          if (record.kind !== 'unit' || !record.relation) continue;
          if ('twinOf' in record.relation) assert.equal(at(after, record.id), at(after, record.relation.twinOf));
        }
        // All were selected: every relation there was is there still.
        for (const [id, record] of show)
          if (record.kind === 'unit') assert.deepEqual(getRecord(after, 'unit', id)!.relation, record.relation);
      }),
      { numRuns: 100 },
    );
  });

  const four = showWith(
    ...units(
      ...[3, -1, 2, -4].map((x, i) => ({
        slug: 'abcd'[i]!,
        profile: 'quillon-heron',
        mode: '16ch',
        address: 400 + i,
        fields: { position: { x, y: i < 2 ? 4 : 0, z: 3 } },
      })),
    ),
  );
  const packed = (order: UnitOrder, more: object = {}): string[] => {
    const { change, moves } = packUnits(four, ['unit:a', 'unit:b', 'unit:c', 'unit:d'], {
      order,
      start: { universe: 1, address: 1 },
      ...more,
    });
    const after = applyChange(four, change);
    return moves.map((m) => `${m.unit.id.slice(5)} ${at(after, m.unit.id)}`);
  };
  test('goes in the order that is asked for', () => {
    assert.deepEqual(packed('plot'), ['d 1.1', 'b 1.17', 'c 1.33', 'a 1.49']);
    assert.deepEqual(packed('serpentine'), ['b 1.1', 'a 1.17', 'c 1.33', 'd 1.49']);
    assert.deepEqual(packed('number'), ['a 1.1', 'b 1.17', 'c 1.33', 'd 1.49']);
    assert.deepEqual(packed('number', { gap: 4 }), ['a 1.1', 'b 1.21', 'c 1.41', 'd 1.61']);
    assert.deepEqual(packed('number', { block: 24 }), ['a 1.1', 'b 1.25', 'c 1.49', 'd 1.73']);
  });
  test('goes round what is not selected', () => {
    const show = applyChange(four, {
      put: units({ slug: 'x', profile: 'generic-dimmer', mode: '1ch', address: 20, fields: { number: 9 } }),
      remove: [],
    });
    const { moves } = packUnits(show, ['unit:a', 'unit:b'], { order: 'number', start: { universe: 1, address: 1 } });
    assert.deepEqual(
      moves.map((m) => m.after),
      [
        { universe: 1, address: 1 },
        { universe: 1, address: 21 },
      ],
    );
  });
  test('tells what finds no room, and leaves it where it is', () => {
    const { unplaced, change } = packUnits(four, ['unit:a', 'unit:b'], {
      order: 'number',
      start: { universe: 63_999, address: 490 },
    });
    assert.deepEqual(
      unplaced.map((u) => u.id),
      ['unit:b'],
    );
    assert.deepEqual(
      change.put.map((u) => u.id),
      ['unit:a'],
    );
  });
  test('lets go a chained unit whose leader stays, and says so', () => {
    const chained = applyChange(four, {
      put: [{ ...getRecord(four, 'unit', 'unit:b')!, relation: { after: 'unit:a', gap: 0 } }],
      remove: [],
    });
    const { letGo, change } = packUnits(chained, ['unit:b'], { order: 'number', start: { universe: 5, address: 1 } });
    assert.deepEqual(
      letGo.map((u) => u.id),
      ['unit:b'],
    );
    assert.ok(change.put[0]?.kind === 'unit' && change.put[0].relation === null);
  });
});

test('re-addressing leaves every rendered attribute as it was', () => {
  const rows = Array.from({ length: 24 }, (_, i): UnitRow => {
    const [profile, mode] = MODES[i % MODES.length]!;
    return { slug: `u${i}`, profile, mode, universe: 1 + Math.floor(i / 8), address: 1 + (i % 8) * 50 };
  });
  const values = Object.fromEntries(
    rows.map((r, i) => [r.slug, { Dimmer: (i + 1) / 30, ColorRGB_Red: (i % 5) / 5, Pan: i / 24 }]),
  );
  const show = showWith(...units(...rows), scene('look', values));
  /** What every attribute of every unit is set to, by name: the frame before it becomes slots. */
  const attributes = (document: Document): Map<string, number> => {
    const rig = compileRig(document);
    const playing = [newPlay({ id: 'p', target: 'scene:look', startedAt: 0 })];
    const live = prepareLive(rig, { ...initialLive(0), playing }, (p) => compilePlay(rig, document, p), document);
    const frame = makeFrame(rig.arrays);
    render(rig.arrays, live, 5000, frame);
    const found = new Map<string, number>();
    for (const unit of rig.units.values())
      for (const [key, { slot }] of unit.slots) found.set(`${unit.id} ${key}`, frame.current[slot]!);
    return found;
  };
  const before = attributes(show);
  assert.ok(before.size > 100 && [...before.values()].some((v) => v > 0.3));
  for (const order of UNIT_ORDERS) {
    const { change, moves } = packUnits(
      show,
      rows.map((r) => `unit:${r.slug}` as const),
      { order, start: { universe: 7, address: 3 }, gap: 2 },
    );
    assert.equal(moves.length, 24);
    const after = applyChange(show, change);
    assert.deepEqual(overlapping(after), []);
    assert.deepEqual(attributes(after), before);
    assert.deepEqual(after.get('scene:look'), show.get('scene:look'));
  }
});

describe('placing', () => {
  const slotsOf = (universe: number): 510 | 512 => (universe === 2 ? 510 : 512);
  test('takes things that flow on over the end of a universe', () => {
    const strip = (length: number, cell = 1): Footprint => ({
      cell,
      spans: (p) => {
        const room = slotsOf(p.universe) - p.address + 1;
        const first = { universe: p.universe, from: p.address, to: p.address + Math.min(room, length) - 1 };
        return length <= room ? [first] : [first, { universe: p.universe + 1, from: 1, to: length - room }];
      },
    });
    const taken = new Map([[2, [{ from: 50, to: 60 }]]]);
    assert.deepEqual(
      placeRun([strip(100), strip(500), strip(100)], { slotsOf, taken, start: { universe: 1, address: 400 } }),
      [
        { universe: 1, address: 400 },
        { universe: 2, address: 61 },
        { universe: 3, address: 51 },
      ],
    );
  });
  test('parts no pixel where it can be helped', () => {
    const strip = (length: number): Footprint => ({
      cell: 3,
      spans: (p) => spansOf(p, length, { flow: true, slotsPerUniverse: 512 }),
    });
    const starts = (lengths: number[], address = 1): string[] =>
      placeRun(lengths.map(strip), { slotsOf: () => 512, taken: new Map(), start: { universe: 1, address } }).map(
        (p) => `${p!.universe}.${p!.address}`,
      );
    assert.deepEqual(starts([510, 510, 510]), ['1.1', '2.1', '3.1']);
    assert.deepEqual(starts([150, 150, 300]), ['1.1', '1.151', '2.1'], '211 slots are left: the 71st would be parted');
    assert.deepEqual(starts([300], 303), ['1.303'], '210 slots are left, 70 whole ones');
    assert.deepEqual(starts([900]), ['1.1'], 'longer than a universe: it begins with one');
  });
  test('gives up on what is larger than any universe', () => {
    const big: Footprint = {
      cell: 0,
      spans: (p) => [{ universe: p.universe, from: p.address, to: p.address + 600 }],
    };
    assert.deepEqual(placeRun([big], { slotsOf, taken: new Map() }), [null]);
  });
});

describe('moving by slots', () => {
  const slotsOf = (universe: number): 510 | 512 => (universe === 2 ? 510 : 512);
  test('counts through the universes both ways', () => {
    assert.deepEqual(shiftPlace({ universe: 1, address: 512 }, 1, slotsOf), { universe: 2, address: 1 });
    assert.deepEqual(shiftPlace({ universe: 3, address: 1 }, -1, slotsOf), { universe: 2, address: 510 });
    assert.deepEqual(shiftPlace({ universe: 1, address: 1 }, 512 + 510, slotsOf), { universe: 3, address: 1 });
    assert.equal(shiftPlace({ universe: 1, address: 1 }, -1, slotsOf), null);
    assert.equal(shiftPlace({ universe: 63_999, address: 512 }, 1, slotsOf), null);
  });
  test('there and back is the same place', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 60_000 }),
        fc.integer({ min: 1, max: 510 }),
        fc.integer({ min: -1500, max: 1500 }),
        (universe, address, by) => {
          const there = shiftPlace({ universe, address }, by, slotsOf)!;
          assert.deepEqual(shiftPlace(there, -by, slotsOf), { universe, address });
        },
      ),
    );
  });
  test('takes twins and followers along once', () => {
    const show = showWith(
      ...units(
        { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 10 },
        {
          slug: 'b',
          profile: 'generic-dimmer',
          mode: '1ch',
          address: null,
          fields: { relation: { twinOf: 'unit:a' } },
        },
        {
          slug: 'c',
          profile: 'generic-dimmer',
          mode: '1ch',
          address: null,
          fields: { relation: { after: 'unit:a', gap: 0 } },
        },
      ),
    );
    const after = applyChange(show, shiftUnits(show, ['unit:a', 'unit:b', 'unit:c'], 5)!);
    assert.deepEqual(
      (['unit:a', 'unit:b', 'unit:c'] as const).map((id) => at(after, id)),
      ['1.15', '1.15', '1.16'],
    );
    assert.equal(shiftUnits(show, ['unit:a'], -10), null);
  });
});

test('orders put equal ones by number, and units on no line last', () => {
  const rows = units(
    ...['a', 'b', 'c'].map((slug, i) => ({
      slug,
      profile: 'generic-dimmer',
      mode: '1ch',
      address: 9 - i,
      fields: { name: `U${10 - i}` },
    })),
  );
  const line = make('line', { id: 'line:l', number: 1, name: 'L', unitIds: ['unit:c', 'unit:b'] });
  const show = showWith(...rows, line);
  const ordered = (order: UnitOrder): string =>
    orderUnits(
      show,
      rows.flatMap((r) => (r.kind === 'unit' ? [r] : [])),
      order,
    )
      .map((u) => u.id.slice(5))
      .join('');
  assert.deepEqual(
    UNIT_ORDERS.map((o) => `${o} ${ordered(o)}`),
    ['number abc', 'name cba', 'address cba', 'plot abc', 'serpentine abc', 'line cba'],
  );
});

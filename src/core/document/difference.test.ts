import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import type { Id } from '../ids.ts';
import type { AnyRecord } from '../records/index.ts';
import { applyChange, documentOf, reverseOf, sameJson, type Document } from './change.ts';
import {
  differenceOf,
  DifferenceMisfit,
  followed,
  onlyForward,
  rewound,
  takenBack,
  turned,
  valueDifference,
  type FieldDifference,
} from './difference.ts';

/** Records with whatever fields: a difference knows nothing of kinds. */
const record = (id: string, fields: object): AnyRecord => ({ kind: 'scene', id, ...fields }) as unknown as AnyRecord;
const between = (a: object, b: object): FieldDifference => {
  const [found] = differenceOf(documentOf([record('scene:a', a)]), { put: [record('scene:a', b)], remove: [] });
  return (found as { changed: FieldDifference }).changed;
};

describe('a difference', () => {
  test('names the field and nothing else, however large the record', () => {
    const values = Object.fromEntries(Array.from({ length: 1000 }, (_, i) => [`unit:u${i}`, { Dimmer: 1, Pan: 0 }]));
    const other = { ...values, 'unit:u7': { Dimmer: 0.5, Pan: 0 } };
    assert.deepEqual(between({ values }, { values: other }), {
      fields: { values: { fields: { 'unit:u7': { fields: { Dimmer: { was: 1, is: 0.5 } } } } } },
    });
  });
  test('of a list is an item of it where it stays as long, else the stretch that was exchanged', () => {
    assert.deepEqual(between({ l: [1, { a: 1 }, 3] }, { l: [1, { a: 2 }, 3] }), {
      fields: { l: { items: { 1: { fields: { a: { was: 1, is: 2 } } } } } },
    });
    assert.deepEqual(between({ l: [1, 2, 3, 4] }, { l: [1, 2, 9, 3, 4] }), {
      fields: { l: { at: 2, out: [], in: [9] } },
    });
    assert.deepEqual(between({ l: [1, 2] }, { l: [] }), { fields: { l: { at: 0, out: [1, 2], in: [] } } });
  });
  test('tells a field that is null from one that is not there', () => {
    assert.deepEqual(between({ a: null }, {}), { fields: { a: { was: null } } });
    assert.deepEqual(between({}, { a: null }), { fields: { a: { is: null } } });
    assert.deepEqual(between({ a: [1] }, { a: { b: 1 } }), { fields: { a: { was: [1], is: { b: 1 } } } });
  });
  test('that most fields have in common is said once, and fits nothing else', () => {
    const units = Array.from({ length: 500 }, (_, i) => `unit:u${i}`);
    const [half, more, other] = [{ Dimmer: 0.5 }, { Dimmer: 0.6 }, { Dimmer: 1 }];
    const before = Object.fromEntries(units.map((id, i) => [id, i === 3 ? other : half]));
    const after = Object.fromEntries(units.map((id, i) => [id, i === 3 ? other : i === 9 ? { Dimmer: 0.7 } : more]));
    const difference = valueDifference(before, after)!;
    assert.deepEqual(difference, {
      every: { fields: { Dimmer: { was: 0.5, is: 0.6 } } },
      of: 500,
      but: { 'unit:u3': null, 'unit:u9': { fields: { Dimmer: { was: 0.5, is: 0.7 } } } },
    });
    assert.ok(JSON.stringify(onlyForward(difference)).length < 200);
    const sent = JSON.parse(JSON.stringify(difference)) as FieldDifference;
    assert.deepEqual(turned(before, sent, 'is', 'live'), after);
    assert.deepEqual(turned(after, sent, 'was', 'live'), before);
    // What was one object stays one.
    const next = turned(before, sent, 'is', 'live') as typeof after;
    assert.equal(next['unit:u1'], next['unit:u2']);
    const { 'unit:u1': _, ...fewer } = before;
    assert.throws(() => turned(fewer, sent, 'is', 'live'), /live has not 500 fields/);
    const { 'unit:u9': __, ...others } = before;
    assert.throws(() => turned({ ...others, 'unit:x': half }, sent, 'is', 'live'), /live has no unit:u9/);
    // Where fields come and go each is said by itself.
    assert.ok('fields' in valueDifference(before, fewer)!);
  });
  test('that does not fit says where', () => {
    const changed = between({ a: { b: [1, 2] } }, { a: { b: [1] } });
    const difference = [{ id: 'scene:a' as Id, changed }];
    assert.throws(
      () => followed(documentOf([record('scene:a', { a: 1 })]), difference),
      (e: unknown) => e instanceof DifferenceMisfit && e.message.startsWith('scene:a.a '),
    );
    assert.throws(() => followed(new Map(), difference), DifferenceMisfit);
  });
  test('takes a name that objects have of themselves for a field', () => {
    const odd = JSON.parse('{"__proto__": 1, "constructor": 2}') as object;
    const difference = differenceOf(documentOf([record('scene:a', { v: {} })]), {
      put: [record('scene:a', { v: odd })],
      remove: [],
    });
    const { put } = followed(
      documentOf([record('scene:a', { v: {} })]),
      JSON.parse(JSON.stringify(difference)) as never,
    );
    assert.equal(JSON.stringify(put[0]), JSON.stringify(record('scene:a', { v: odd })));
  });
});

/** A value of up to three storeys, drawn by chance. */
function value(chance: () => number, storeys = 3): unknown {
  const kind = Math.floor(chance() * (storeys > 0 ? 6 : 3));
  const some = Math.floor(chance() * 4);
  if (kind === 0) return null;
  if (kind === 1) return Math.floor(chance() * 3);
  if (kind === 2) return 'abc'[Math.floor(chance() * 3)];
  if (kind === 3) return Array.from({ length: some }, () => value(chance, storeys - 1));
  return Object.fromEntries(
    Array.from({ length: some }, () => ['pqrs'[Math.floor(chance() * 4)]!, value(chance, storeys - 1)]),
  );
}

test('thousands of edits drawn by chance are followed and taken back through JSON exactly', () => {
  const chance = seeded(20261127);
  const ids = ['scene:a', 'scene:b', 'scene:c'] as Id[];
  const began: Document = new Map();
  const states: Document[] = [began];
  const differences = [];
  let now: Document = began;
  for (let i = 0; i < 3000; i++) {
    const id = ids[Math.floor(chance() * 3)]!;
    const edit =
      chance() < 0.2
        ? { put: [], remove: [id] }
        : { put: [record(id, { v: value(chance), w: value(chance) })], remove: [] };
    const difference = JSON.parse(JSON.stringify(differenceOf(now, edit))) as ReturnType<typeof differenceOf>;
    const next = applyChange(now, edit);
    assert.ok(sameJson([...applyChange(now, followed(now, difference))].sort(), [...next].sort()));
    const back = applyChange(next, takenBack(next, difference));
    assert.ok(sameJson([...back].sort(), [...applyChange(next, reverseOf(now, edit))].sort()));
    differences.push(difference);
    states.push((now = next));
  }
  for (const at of [0, 1, 500, 2999])
    assert.ok(
      sameJson(
        [...rewound(now, ids.slice(0, 2), differences.slice(at).reverse())].sort(),
        [...states[at]!].filter(([id]) => id !== 'scene:c').sort(),
      ),
    );
});

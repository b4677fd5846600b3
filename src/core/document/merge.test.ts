import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { RECORD_KINDS } from '../ids.ts';
import { KINDS, make, type GroupRecord, type OutputRecord, type ShowRecord } from '../records/index.ts';
import { mergeRecord } from './merge.ts';

const group = (ids: readonly string[]): GroupRecord =>
  make('group', { id: 'group:g', number: 1, name: 'G', unitIds: ids.map((id) => `unit:${id}` as const) });
const merged = (base: string, theirs: string, ours: string): string => {
  const { record } = mergeRecord(group([...base]), group([...theirs]), group([...ours]));
  return (record as GroupRecord).unitIds.map((id) => id.slice('unit:'.length)).join('');
};

describe('lists are merged item by item', () => {
  const cases: [base: string, theirs: string, ours: string, result: string, what: string][] = [
    ['abc', 'abcd', 'abce', 'abcde', 'both add'],
    ['abc', 'bc', 'ab', 'b', 'both take one away'],
    ['abc', 'abc', 'cba', 'cba', 'one turns the order round'],
    ['abc', 'cba', 'abcd', 'cdba', 'one turns it round, the other adds one behind the c'],
    ['abc', 'cba', 'bac', 'bac', 'both turn it round: the edit is the later one'],
    ['abc', 'ac', 'xabc', 'xac', 'one takes away, the other adds before the first'],
    ['', 'ab', 'bc', 'abc', 'both begin, one item is the same'],
    ['ab', '', 'abc', 'c', 'one empties it, the other adds'],
  ];
  for (const [base, theirs, ours, result, what] of cases)
    test(`${what}: ${base}, ${theirs}, ${ours}`, () => assert.equal([...merged(base, theirs, ours)].join(''), result));

  test('two people change different fields of different items, and of the same', () => {
    const output = (...lamps: readonly (readonly [id: string, name: string, unit: string | null])[]): OutputRecord =>
      make('output', {
        id: 'output:o',
        name: 'O',
        protocol: 'hub',
        lamps: lamps.map(([lampId, name, unit]) => ({ lampId, name, unitId: unit ? `unit:${unit}` : null })),
      });
    const base = output(['1', 'Door', null], ['2', 'Desk', null]);
    const theirs = output(['1', 'Door', 'a'], ['2', 'Desk', null], ['3', 'Bar', null]);
    const ours = output(['1', 'Front door', null], ['2', 'Desk', 'b']);
    const { record, overwrote } = mergeRecord(base, theirs, ours);
    assert.deepEqual(
      (record as OutputRecord).lamps,
      output(['1', 'Front door', 'a'], ['2', 'Desk', 'b'], ['3', 'Bar', null]).lamps,
    );
    assert.deepEqual(overwrote, []);
  });
  test('an item that one takes away and the other changes stays', () => {
    const show = (...names: readonly string[]): ShowRecord =>
      make('show', {
        id: 'show:s',
        name: 'S',
        tags: names.map((name, i) => ({ key: `t${i}`, name, colour: '#ff0000', shape: 'disc' }) as never),
      });
    const base = show('One', 'Two');
    const { record } = mergeRecord(base, { ...base, tags: [base.tags[0]!] }, show('One', 'Second'));
    assert.deepEqual(
      (record as ShowRecord).tags.map((tag) => tag.name),
      ['One', 'Second'],
    );
  });
  test('lists that are too long together: the edit’s stands', () => {
    const ids = (from: number, to: number) =>
      Array.from({ length: to - from }, (_, i) => `profile:p${from + i}` as const);
    const show = (recent: readonly `profile:${string}`[]): ShowRecord =>
      make('show', { id: 'show:s', name: 'S', recent: [...recent] });
    const { record, overwrote } = mergeRecord(show([]), show(ids(0, 10)), show(ids(10, 20)));
    assert.deepEqual((record as ShowRecord).recent, ids(10, 20));
    assert.deepEqual(overwrote, ['recent']);
  });

  const letters = fc.uniqueArray(fc.constantFrom(...'abcdefgh'), { maxLength: 8 }).map((list) => list.join(''));
  test('whatever both do, nothing stands twice, nothing is lost, and one who did nothing has no say', () => {
    fc.assert(
      fc.property(letters, letters, letters, (base, theirs, ours) => {
        const result = merged(base, theirs, ours);
        assert.equal(new Set(result).size, result.length);
        for (const item of 'abcdefgh') {
          const [was, there, own] = [base, theirs, ours].map((list) => list!.includes(item));
          // Somebody who changed their mind about it is heard.
          assert.equal(result.includes(item), was ? there! && own! : there! || own!, item);
        }
        assert.equal(merged(base, base, ours), ours);
        assert.equal(merged(base, theirs, base), theirs);
      }),
    );
  });
});

type Shaped = { shape?: Record<string, unknown>; def?: { innerType?: unknown } };
/** A schema without its default. */
const inner = (schema: unknown): Shaped => {
  const own = schema as Shaped;
  return own.shape || !own.def?.innerType ? own : inner(own.def.innerType);
};
test('every list that a kind names is one, and its items have that key', () => {
  for (const kind of RECORD_KINDS)
    for (const [path, key] of Object.entries(KINDS[kind].lists)) {
      // A path may lead into a field: each step of it is one.
      let within: unknown = KINDS[kind].schema;
      for (const step of path.split('.')) {
        const { shape } = inner(within);
        assert.ok(shape && step in shape, `${kind}.${path}`);
        within = shape[step];
      }
      assert.ok(key === null || typeof key === 'string');
    }
});
test('every silent field of a kind is a field', () => {
  for (const kind of RECORD_KINDS)
    for (const field of KINDS[kind].silent)
      assert.ok(field in (KINDS[kind].schema as unknown as { shape: object }).shape, `${kind}.${field}`);
});

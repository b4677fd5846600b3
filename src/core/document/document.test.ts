import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, scene, showWith, units } from '../../../tests/support/rig.ts';
import type { Id } from '../ids.ts';
import { make, type AnyRecord } from '../records/index.ts';
import {
  applyChange,
  documentOf,
  effective,
  reverseOf,
  sameJson,
  sortedChange,
  squash,
  type ChangeSet,
  type Document,
} from './change.ts';
import { mergeRecord } from './merge.ts';
import { changeFaults, removalOf } from './rules.ts';
import { advance, NOTHING_TO_UNDO, undoStateOf, type HistoryMark } from './undo.ts';

const group = (slug: string, name: string): AnyRecord =>
  make('group', { id: `group:${slug}`, number: 1, name, unitIds: [] });

/** Any document of groups, and any change of it; a record is put or removed, never both. */
const slugs = fc.constantFrom('a', 'b', 'c', 'd', 'e');
const groups = fc.uniqueArray(fc.tuple(slugs, fc.constantFrom('One', 'Two', 'Three')), {
  selector: ([slug]) => slug,
});
const anyDocument = groups.map((list) => documentOf(list.map(([slug, name]) => group(slug, name))));
const anyChange: fc.Arbitrary<ChangeSet> = fc.tuple(groups, fc.uniqueArray(slugs)).map(([put, remove]) => ({
  put: put.map(([slug, name]) => group(slug, name)),
  remove: remove.filter((slug) => !put.some(([s]) => s === slug)).map((slug): Id => `group:${slug}`),
}));
const plain = (document: Document): [string, AnyRecord][] => [...document].sort(([a], [b]) => (a < b ? -1 : 1));

describe('change sets', () => {
  test('are turned back by their reverse', () => {
    fc.assert(
      fc.property(anyDocument, anyChange, (before, change) => {
        const after = applyChange(before, change);
        assert.deepEqual(plain(applyChange(after, reverseOf(before, change))), plain(before));
      }),
    );
  });

  test('are done again by the reverse of their reverse', () => {
    fc.assert(
      fc.property(anyDocument, anyChange, (before, change) => {
        const after = applyChange(before, change);
        const reverse = reverseOf(before, change);
        assert.deepEqual(plain(applyChange(before, reverseOf(after, reverse))), plain(after));
      }),
    );
  });

  test('squashed do the same as one after the other', () => {
    fc.assert(
      fc.property(anyDocument, anyChange, anyChange, (before, first, second) => {
        assert.deepEqual(
          plain(applyChange(before, squash(first, second))),
          plain(applyChange(applyChange(before, first), second)),
        );
      }),
    );
  });

  test('lose nothing when what has no effect is left out', () => {
    fc.assert(
      fc.property(anyDocument, anyChange, (before, change) => {
        const less = effective(before, change);
        assert.deepEqual(plain(applyChange(before, less)), plain(applyChange(before, change)));
        for (const record of less.put) assert.ok(!sameJson(before.get(record.id), record));
      }),
    );
  });

  test('are written in an order that foreign keys allow', () => {
    const [unit] = units({ slug: 'u', profile: 'generic-dimmer', mode: '1ch', address: 1 });
    const change = sortedChange({
      put: [chase('x', ['s']), scene('s', {}), unit!, group('g', 'G')],
      remove: ['profile:a', 'unit:a', 'chase:a', 'scene:a'],
    });
    assert.deepEqual(
      change.put.map((r) => r.kind),
      ['unit', 'group', 'scene', 'chase'],
    );
    assert.deepEqual(change.remove, ['chase:a', 'scene:a', 'unit:a', 'profile:a']);
  });

  test('compare JSON by value, whatever the order of keys', () => {
    assert.ok(sameJson({ a: 1, b: [1, { c: 2 }] }, { b: [1, { c: 2 }], a: 1 }));
    assert.ok(sameJson({ a: 1, b: undefined }, { a: 1 }));
    assert.ok(!sameJson([1, 2], [2, 1]));
    assert.ok(!sameJson({ a: null }, { a: {} }));
    assert.ok(!sameJson([], {}));
  });
});

describe('merging an edit on an older state', () => {
  const base = units({ slug: 'u', profile: 'generic-dimmer', mode: '1ch', address: 1 })[0]!;
  assert.ok(base.kind === 'unit');

  test('keeps both when different fields changed, even inside one object', () => {
    const theirs = { ...base, name: 'Theirs', position: { ...base.position, x: 3 } };
    const ours = { ...base, notes: 'ours', position: { ...base.position, y: 4 } };
    const merged = mergeRecord(base, theirs, ours);
    assert.deepEqual(merged.overwrote, []);
    assert.deepEqual(merged.record, { ...base, name: 'Theirs', notes: 'ours', position: { x: 3, y: 4, z: 0 } });
  });

  test('lets the later one win on the same field and says so', () => {
    const merged = mergeRecord(base, { ...base, name: 'Theirs' }, { ...base, name: 'Ours' });
    assert.deepEqual([merged.record, merged.overwrote], [{ ...base, name: 'Ours' }, ['name']]);
  });

  test('is no quarrel when both did the same, or only one did anything', () => {
    const same = { ...base, name: 'Same' };
    assert.deepEqual(mergeRecord(base, same, same), { record: same, overwrote: [] });
    assert.deepEqual(mergeRecord(base, same, base), { record: same, overwrote: [] });
    assert.deepEqual(mergeRecord(base, base, same), { record: same, overwrote: [] });
  });

  test('takes a list as a whole, and a key that one removed away', () => {
    const values = { 'unit:a': { Dimmer: 1, Pan: 0.5 } } as const;
    const before = make('scene', { id: 'scene:s', number: 1, name: 'S', values });
    const theirs = make('scene', {
      id: 'scene:s',
      number: 1,
      name: 'S',
      values: { 'unit:a': { Dimmer: 1, Pan: 0.7 } },
    });
    const ours = make('scene', { id: 'scene:s', number: 1, name: 'S', values: { 'unit:a': { Pan: 0.5 } } });
    assert.deepEqual(mergeRecord(before, theirs, ours).record, { ...before, values: { 'unit:a': { Pan: 0.7 } } });
  });
});

describe('rules between records', () => {
  const rig = units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
    { slug: 'b', profile: 'fernlight-plumlet', mode: '7ch', address: 10 },
  );
  const show = showWith(...rig, scene('s', { a: { Dimmer: 1 } }), chase('c', ['s']));
  const codes = (change: ChangeSet, before = show): string[] =>
    changeFaults(before, change).map((f) => `${f.code} ${f.path}`);
  const [a, b] = rig;
  assert.ok(a?.kind === 'unit' && b?.kind === 'unit');

  test('take a sound show', () => {
    assert.deepEqual(codes({ put: [...show.values()], remove: [] }, documentOf([])), []);
  });
  test('let nothing dangle', () => {
    assert.deepEqual(codes({ put: [scene('s', { ghost: { Dimmer: 1 } })], remove: [] }), [
      'UNKNOWN_ID scene:s.values.unit:ghost',
    ]);
    assert.deepEqual(codes({ put: [chase('n', ['nothing'])], remove: [] }), ['UNKNOWN_ID chase:n.steps.0.sceneId']);
    assert.deepEqual(codes({ put: [], remove: ['unit:a'] }), ['STILL_USED scene:s.values.unit:a']);
  });
  test('keep every unit in a mode that there is', () => {
    assert.deepEqual(codes({ put: [{ ...b, mode: '99ch' }], remove: [] }), ['UNKNOWN_MODE unit:b.mode']);
    const profile = show.get('profile:fernlight-plumlet');
    assert.ok(profile?.kind === 'profile');
    assert.deepEqual(codes({ put: [{ ...profile, modes: profile.modes.slice(0, 2) }], remove: [] }), [
      'MODE_IN_USE profile:fernlight-plumlet.modes',
    ]);
  });
  test('keep exactly one show', () => {
    assert.deepEqual(codes({ put: [], remove: ['show:test'] }), ['ONE_SHOW show']);
    assert.deepEqual(codes({ put: [make('show', { id: 'show:two', name: 'Two' })], remove: [] }), ['ONE_SHOW show']);
  });
  test('stop listing after fifty', () => {
    const values = Object.fromEntries(Array.from({ length: 500 }, (_, i) => [`ghost${i}`, { Dimmer: 1 }]));
    assert.equal(codes({ put: [scene('s', values)], remove: [] }).length, 50);
  });
  test('a removal takes every mention with it, and its reverse brings all of it back', () => {
    const change = removalOf(show, ['unit:a', 'scene:s']);
    assert.deepEqual(changeFaults(show, change), []);
    const after = applyChange(show, change);
    const left = after.get('chase:c');
    assert.ok(left?.kind === 'chase' && left.steps.length === 0);
    assert.deepEqual(plain(applyChange(after, reverseOf(show, change))), plain(show));
  });
  test('a profile goes with its units, and they with their place in scenes', () => {
    const change = removalOf(show, ['profile:generic-dimmer']);
    assert.deepEqual([...change.remove].sort(), ['profile:generic-dimmer', 'unit:a']);
    const left = applyChange(show, change).get('scene:s');
    assert.deepEqual(left?.kind === 'scene' && left.values, {});
  });
});

describe('undo', () => {
  const mark = (revision: number, action: HistoryMark['action'], target: number | null = null): HistoryMark => ({
    revision,
    action,
    target,
    label: '',
  });

  test('goes back edit by edit, and forward again until something else is edited', () => {
    const marks = [mark(1, 'edit'), mark(2, 'edit'), mark(3, 'undo', 2), mark(4, 'undo', 1), mark(5, 'redo', 1)];
    assert.deepEqual(undoStateOf(marks), { undo: [1], redo: [2] });
    assert.deepEqual(undoStateOf([...marks, mark(6, 'edit')]), { undo: [1, 6], redo: [] });
  });

  test('read from the whole history is the same as kept line by line', () => {
    const anyHistory = fc.array(fc.constantFrom<HistoryMark['action']>('edit', 'undo', 'redo'), { maxLength: 60 });
    fc.assert(
      fc.property(anyHistory, (actions) => {
        let state = NOTHING_TO_UNDO;
        const marks: HistoryMark[] = [];
        for (const action of actions) {
          const target = action === 'edit' ? null : (state[action].at(-1) ?? null);
          if (action !== 'edit' && target === null) continue;
          const line = mark(marks.length + 1, action, target);
          marks.push(line);
          state = advance(state, line);
        }
        assert.deepEqual(undoStateOf(marks), state);
      }),
    );
  });
});

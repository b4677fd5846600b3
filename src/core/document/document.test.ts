import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { chase, scene, showWith, units } from '../../../tests/support/rig.ts';
import type { Id } from '../ids.ts';
import { seeded } from '../random.ts';
import { make, type AnyRecord } from '../records/index.ts';
import {
  applyChange,
  documentOf,
  effective,
  recordsOf,
  reverseOf,
  sameJson,
  sortedChange,
  squash,
  type ChangeSet,
  type Document,
} from './change.ts';
import { mergeRecord } from './merge.ts';
import { changeFaults } from '../rules/faults.ts';
import { removalOf } from '../rules/removal.ts';
import { turnedBack } from './turn-back.ts';
import { UndoLog, type HistoryMark } from './undo.ts';

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
  const mark = (
    revision: number,
    action: HistoryMark['action'],
    target: number | null = null,
    author = 'one',
  ): HistoryMark => ({ revision, author, action, target, label: '' });

  test('goes back edit by edit, and forward again until something else is edited', () => {
    const marks = [mark(1, 'edit'), mark(2, 'edit'), mark(3, 'undo', 2), mark(4, 'undo', 1), mark(5, 'redo', 1)];
    assert.deepEqual(new UndoLog(marks).of('one'), { undo: [1], redo: [2] });
    assert.deepEqual(new UndoLog([...marks, mark(6, 'edit')]).of('one'), { undo: [1, 6], redo: [] });
  });
  test('everybody goes back through their own edits', () => {
    const log = new UndoLog([mark(1, 'edit'), mark(2, 'edit', null, 'two'), mark(3, 'edit'), mark(4, 'undo', 3)]);
    assert.deepEqual(log.of('one'), { undo: [1], redo: [3] });
    assert.deepEqual(log.of('two'), { undo: [2], redo: [] });
    log.take(mark(5, 'edit', null, 'two'));
    assert.deepEqual(log.of('one').redo, [3], 'an edit of somebody else leaves what one can redo');
  });
  test('what another takes back from the history is not there to be taken back again', () => {
    const log = new UndoLog([mark(1, 'edit'), mark(2, 'edit'), mark(3, 'undo', 1, 'two')]);
    assert.deepEqual(log.of('one'), { undo: [2], redo: [] });
    assert.deepEqual(log.of('two'), { undo: [], redo: [1] });
    log.take(mark(4, 'redo', 1, 'two'));
    assert.deepEqual(log.of('two'), { undo: [1], redo: [] });
  });
});

describe('taking an edit back when others went on', () => {
  const unit = make('unit', {
    id: 'unit:a',
    number: 1,
    name: 'A',
    profileId: 'profile:generic-dimmer',
    mode: '1ch',
  });
  const put = (...records: AnyRecord[]): ChangeSet => ({ put: records, remove: [] });
  const before = documentOf([unit]);
  const edited = { ...unit, name: 'B', notes: 'mine' };
  const turn = (now: Iterable<AnyRecord>) => turnedBack(documentOf(now), put(edited), put(unit));

  test('other fields stay as others left them', () => {
    const { change, later } = turn([{ ...edited, number: 7 }]);
    assert.deepEqual(later, []);
    assert.deepEqual(change.put, [{ ...unit, number: 7 }]);
  });
  test('the same field is named, and nothing is taken back', () =>
    assert.deepEqual(turn([{ ...edited, name: 'theirs' }]).later, [{ id: 'unit:a', field: 'name' }]));
  test('one that somebody removed is named too', () =>
    assert.deepEqual(turn([]).later, [{ id: 'unit:a', field: null }]));
  test('what was made goes, unless somebody changed it', () => {
    const made = (now: AnyRecord) => turnedBack(documentOf([now]), put(unit), { put: [], remove: ['unit:a'] });
    assert.deepEqual(made(unit), { change: { put: [], remove: ['unit:a'] }, later: [] });
    assert.deepEqual(made(edited).later, [{ id: 'unit:a', field: null }]);
  });
  test('what was removed comes back', () => {
    const { change, later } = turnedBack(documentOf([]), { put: [], remove: ['unit:a'] }, put(unit));
    assert.deepEqual([change.put, later], [[unit], []]);
  });
  test('an edit and its reverse, in any order of others’ edits of other fields, end where they began', () => {
    const field = fc.constantFrom('number', 'levelLimit', 'locked');
    fc.assert(
      fc.property(fc.array(fc.tuple(field, fc.integer({ min: 1, max: 9 })), { maxLength: 8 }), (others) => {
        let now: Document = applyChange(before, put(edited));
        for (const [key, value] of others)
          now = applyChange(now, put({ ...now.get('unit:a')!, [key]: value } as AnyRecord));
        const { change, later } = turnedBack(now, put(edited), put(unit));
        assert.deepEqual(later, []);
        const left = applyChange(now, change).get('unit:a') as typeof unit;
        assert.deepEqual([left.name, left.notes], [unit.name, unit.notes]);
        for (const [key] of others)
          assert.equal(
            (left as unknown as Record<string, unknown>)[key],
            (now.get('unit:a') as unknown as Record<string, unknown>)[key],
          );
      }),
    );
  });
});

test('lists of records are those of a fresh look, in its order, whatever edits come', () => {
  const chance = seeded(5);
  const kinds = ['scene', 'group', 'area'] as const;
  const record = (n: number): AnyRecord => {
    const [kind, name] = [kinds[n % 3]!, `R${Math.floor(chance() * 9)}`];
    return { kind, id: `${kind}:r${n}`, number: n + 1, name } as unknown as AnyRecord;
  };
  let document = documentOf(Array.from({ length: 20 }, (_, n) => record(n)));
  for (let round = 0; round < 500; round++) {
    const some = (): AnyRecord[] =>
      Array.from({ length: Math.floor(chance() * (round % 50 === 0 ? 90 : 5)) }, () =>
        record(Math.floor(chance() * 60)),
      );
    const kept = kinds.map((kind) => recordsOf(document, kind));
    const change = { put: some(), remove: some().map((r) => r.id) };
    document = applyChange(document, change);
    const all = [...document.values()];
    kinds.forEach((kind, i) => {
      const now = recordsOf(document, kind);
      assert.deepEqual(
        now,
        all.filter((r) => r.kind === kind),
        `round ${round}`,
      );
      const touched = [...change.put.map((r) => r.id), ...change.remove].some((id) => id.startsWith(`${kind}:`));
      if (!touched && change.put.length + change.remove.length < 64) assert.equal(now, kept[i], `round ${round}`);
    });
  }
});

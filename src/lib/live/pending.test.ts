import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { applyChange, documentOf, type ChangeSet, type Document } from '../../core/document/change.ts';
import type { AnyRecord, SceneRecord } from '../../core/records/index.ts';
import { scene } from '../../../tests/support/rig.ts';
import { rebased, sameChange, type PendingEdit } from './pending.ts';

const one = scene('a', { u: { Dimmer: 1 } }) as SceneRecord;
const two = scene('b', { u: { Dimmer: 0.5 } }) as SceneRecord;
const put = (...records: AnyRecord[]): ChangeSet => ({ put: records, remove: [] });
const edit = (document: Document, change: ChangeSet): PendingEdit => ({
  label: 'Test',
  change,
  before: new Map(change.put.flatMap((r) => (document.has(r.id) ? [[r.id, document.get(r.id)!] as const] : []))),
  blind: false,
});

describe('edits that are still on their way', () => {
  const confirmed = documentOf([one, two]);
  test('lie over what is confirmed, in their order', () => {
    const first = edit(confirmed, put({ ...one, name: 'First' }));
    const second = edit(applyChange(confirmed, first.change), put({ ...one, name: 'Second', priority: 5 }));
    const shown = rebased(confirmed, [first, second]).get(one.id) as SceneRecord;
    assert.deepEqual([shown.name, shown.priority], ['Second', 5]);
  });
  test('keep what somebody else changed in other fields of the same record', () => {
    const mine = edit(confirmed, put({ ...one, name: 'Mine' }));
    const theirs = applyChange(confirmed, put({ ...one, priority: 42 }));
    const shown = rebased(theirs, [mine]).get(one.id) as SceneRecord;
    assert.deepEqual([shown.name, shown.priority], ['Mine', 42]);
    // And that is what is sent from now on.
    assert.equal((mine.change.put[0] as SceneRecord).priority, 42);
  });
  test('in the same field mine is shown until the server has spoken', () => {
    const mine = edit(confirmed, put({ ...one, name: 'Mine' }));
    const theirs = applyChange(confirmed, put({ ...one, name: 'Theirs' }));
    assert.equal((rebased(theirs, [mine]).get(one.id) as SceneRecord).name, 'Mine');
  });
  test('a removal stays one', () => {
    const mine = edit(confirmed, { put: [], remove: [two.id] });
    assert.equal(rebased(applyChange(confirmed, put({ ...two, priority: 7 })), [mine]).has(two.id), false);
  });
  test('laid again over the same they change nothing', () => {
    const fields = fc.record({ name: fc.constantFrom('x', 'y'), priority: fc.integer({ min: 0, max: 200 }) });
    fc.assert(
      fc.property(fc.array(fields, { maxLength: 5 }), fields, (mine, theirs) => {
        let now: Document = confirmed;
        const pending = mine.map((own) => {
          const made = edit(now, put({ ...(now.get(one.id) as SceneRecord), ...own }));
          now = applyChange(now, made.change);
          return made;
        });
        const moved = applyChange(confirmed, put({ ...two, ...theirs }));
        const once = rebased(moved, pending);
        assert.deepEqual([...rebased(moved, pending)], [...once]);
      }),
    );
  });
});

test('what came back is what was sent in whatever order, and nothing else', () => {
  const sent: ChangeSet = { put: [one, two], remove: ['scene:c', 'scene:d'] };
  assert.ok(sameChange(sent, { put: [{ ...two }, { ...one }], remove: ['scene:d', 'scene:c'] }));
  assert.ok(!sameChange(sent, { put: [one], remove: sent.remove }));
  assert.ok(!sameChange(sent, { put: [one, { ...two, name: 'Other' }], remove: sent.remove }));
  assert.ok(!sameChange(sent, { put: sent.put, remove: ['scene:c', 'scene:e'] }));
});

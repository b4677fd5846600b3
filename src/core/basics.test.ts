import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { z } from 'zod';
import { FaultError, faultsFromZod, shorten } from './faults.ts';
import { idSchema, kindOf, makeId, RECORD_KINDS } from './ids.ts';
import { seeded, shuffledOrder } from './random.ts';
import { make, parseRecord, referencesOf } from './records/index.ts';

describe('ids', () => {
  test('carry their kind', () => {
    for (const kind of RECORD_KINDS) {
      const id = makeId(kind, seeded(7));
      assert.equal(kindOf(id), kind);
      assert.ok(idSchema(kind).safeParse(id).success);
    }
    assert.notEqual(makeId('unit', seeded(1)), makeId('unit', seeded(2)));
  });
  test('of another kind or another shape are refused', () => {
    for (const text of [
      'scene:ab',
      'unit:',
      'unit:-a',
      'unit:A',
      'unit:ab c',
      `unit:${'a'.repeat(41)}`,
      'unit:a\n',
      '__proto__:a',
    ])
      assert.equal(idSchema('unit').safeParse(text).success, false, JSON.stringify(text));
    assert.equal(kindOf('gizmo:ab'), null);
  });
});

describe('faults', () => {
  test('from Zod keep the path and show what stood there', () => {
    const schema = z.strictObject({ rows: z.array(z.strictObject({ n: z.int() })) });
    const input = { rows: [{ n: 1 }, { n: 'two' }], extra: 1 };
    const parsed = schema.safeParse(input);
    assert.ok(!parsed.success);
    const faults = faultsFromZod(parsed.error, input, 'file');
    assert.deepEqual(
      faults.map((f) => [f.code, f.path, f.received]),
      [
        ['BAD_VALUE', 'file.rows.1.n', 'two'],
        ['UNKNOWN_KEY', 'file', ['extra']],
      ],
    );
  });
  test('never carry a whole hostile value', () => {
    assert.ok(String(shorten('x'.repeat(100_000))).length < 200);
    assert.ok(String(shorten({ deep: 'x'.repeat(100_000) })).length < 200);
    assert.equal(shorten(Infinity), 'Infinity');
    assert.equal(shorten(5), 5);
  });
  test('read as one line when thrown', () => {
    const error = new FaultError({ code: 'A', path: 'b', message: 'c', remedy: 'd' });
    assert.equal(error.message, 'A at b: c');
  });
});

describe('records', () => {
  test('get their defaults', () => {
    const unit = make('unit', { id: 'unit:a', number: 1, name: 'A', profileId: 'profile:p', mode: 'm' });
    assert.deepEqual([unit.patch, unit.position, unit.invertPan], [null, { x: 0, y: 0, z: 0 }, false]);
  });

  const bad: [title: string, record: Record<string, unknown>, path: string][] = [
    [
      'a footprint of no number',
      { kind: 'unit', id: 'unit:a', number: 'one', name: 'A', profileId: 'profile:p', mode: 'm' },
      'r.number',
    ],
    [
      'an address past 512',
      {
        kind: 'unit',
        id: 'unit:a',
        number: 1,
        name: 'A',
        profileId: 'profile:p',
        mode: 'm',
        patch: { universe: 1, address: 513 },
      },
      'r.patch.address',
    ],
    ['an unknown kind', { kind: 'gizmo', id: 'gizmo:a' }, 'r.kind'],
    ['an unknown key', { kind: 'group', id: 'group:a', number: 1, name: 'A', unitIds: [], colour: 'red' }, 'r'],
    [
      'a member twice',
      { kind: 'group', id: 'group:a', number: 1, name: 'A', unitIds: ['unit:a', 'unit:a'] },
      'r.unitIds',
    ],
    ['a control character', { kind: 'group', id: 'group:a', number: 1, name: 'A\u0000', unitIds: [] }, 'r.name'],
    ['half a character', { kind: 'group', id: 'group:a', number: 1, name: 'A\ud800', unitIds: [] }, 'r.name'],
    [
      'a destination that is no address',
      { kind: 'output', id: 'output:a', name: 'A', protocol: 'sacn', destinations: ['300.1.1.1'] },
      'r.destinations.0',
    ],
    [
      'Art-Net multicast',
      { kind: 'output', id: 'output:a', name: 'A', protocol: 'artnet', multicast: true },
      'r.multicast',
    ],
    ['45 frames a second', { kind: 'show', id: 'show:a', name: 'A', frameRate: 45 }, 'r.frameRate'],
    [
      'a level above full',
      { kind: 'scene', id: 'scene:a', number: 1, name: 'A', values: { 'unit:a': { Dimmer: 1.1 } } },
      'r.values.unit:a.Dimmer',
    ],
    [
      'an attribute nobody knows',
      {
        kind: 'profile',
        id: 'profile:a',
        maker: 'M',
        model: 'X',
        fixtureKind: 'par',
        channels: [{ key: 'a', name: 'A', attribute: 'Brightness' }],
        modes: [{ key: 'm', name: 'M', slots: [{ channel: 'a' }] }],
      },
      'r.channels.0.attribute',
    ],
  ];
  for (const [title, record, path] of bad)
    test(`refuse ${title}`, () => {
      const parsed = parseRecord(record, 'r');
      assert.ok('faults' in parsed);
      assert.ok(
        parsed.faults.some((f) => f.path === path),
        parsed.faults.map((f) => f.path).join(', '),
      );
    });

  test('survive any JSON without an exception', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => void parseRecord(value)));
    fc.assert(
      fc.property(fc.constantFrom(...RECORD_KINDS), fc.dictionary(fc.string(), fc.jsonValue()), (kind, rest) => {
        const parsed = parseRecord({ ...rest, kind });
        assert.ok('faults' in parsed);
      }),
    );
  });

  test('name everything they refer to', () => {
    const chase = make('chase', {
      id: 'chase:a',
      number: 1,
      name: 'A',
      steps: [{ sceneId: 'scene:x' }, { sceneId: 'scene:y' }],
    });
    assert.deepEqual(
      [...referencesOf(chase)],
      [
        ['steps.0.sceneId', 'scene:x'],
        ['steps.1.sceneId', 'scene:y'],
      ],
    );
  });
});

describe('chance', () => {
  test('of one seed is always the same', () => {
    const [a, b] = [seeded(42), seeded(42)];
    for (let i = 0; i < 100; i++) assert.equal(a(), b());
  });
  test('shuffles every number once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 300 }), fc.nat(), (count, seed) => {
        const order = shuffledOrder(count, seed);
        assert.deepEqual(
          [...order].sort((a, b) => a - b),
          Array.from({ length: count }, (_, i) => i),
        );
      }),
    );
  });
});

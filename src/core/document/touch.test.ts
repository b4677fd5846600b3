import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { isDeepStrictEqual } from 'node:util';
import { chase, showWith, scene, units } from '../../../tests/support/rig.ts';
import { standinAddresses } from '../../addresses.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { millpondWalk } from '../../db/seed/millpond.ts';
import { RECORD_KINDS } from '../ids.ts';
import { toneSong } from '../../../tests/support/sample-records.ts';
import { builtInProfiles } from '../profile/library.ts';
import { KINDS, make, type AnyRecord } from '../records/index.ts';
import { compilePlay, compileRig, newPlay, type TargetId } from '../show/index.ts';
import { applyChange, documentOf, recordsOf, type ChangeSet, type Document } from './change.ts';
import { isAlike, touchOf } from './touch.ts';

/** Another value for each field that some kind calls silent. */
const OTHER: Readonly<Record<string, unknown>> = {
  name: 'Another name',
  number: 98_765,
  folder: 'Elsewhere',
  tags: ['another'],
  tag: 'another',
  colour: '#123456',
  notes: 'Another note',
  pictureId: null,
  locked: true,
  marks: [{ at: 1, to: 2, label: 'Verse', words: false }],
  codeAt: 3600,
  favourite: true,
  walk: { state: 'done', by: 'Sam', at: 1, place: null, reason: '' },
  expectedEnd: { universe: 9, address: 99 },
  rdmUid: '7ff1:00000b0b',
  hungOn: 'thing:beam1',
  focus: { beamDeg: 12, edge: 0.5, shutters: null, gelName: 'Straw' },
  maker: 'Another maker',
  model: 'Another model',
  author: 'Somebody',
  revision: 77,
  pictures: {},
  addressFromZero: true,
  dipSwitches: true,
  dip: { highFirst: true },
  unitNumber: { circuits: 20, base: 10 },
  outputId: null,
  port: '9',
  medium: 'mains',
  connector: 'screw',
  terminated: true,
  cables: {},
  pixelLimit: 5,
  pixelWatts: 1,
  volts: 48,
  injectEvery: 9,
  levelLimit: 0.5,
  role: 'beams',
  favourites: [],
  recent: [],
  views: [],
  lengths: 'feet',
  guides: [],
  slotNames: { '1.1': 'Another' },
  firstPaper: 'side',
  paperViews: {},
  artist: 'Somebody',
  album: 'Something',
  file: 'other.wav',
  type: 'audio/flac',
  bytes: 99,
  listen: false,
  fault: { code: 'ANY', message: 'any', remedy: 'any' },
  viewpoints: [{ key: 'bar', name: 'Bar', eye: { x: 0, y: -9, z: 2 }, target: { x: 0, y: 0, z: 1 } }],
};
const put = (...records: AnyRecord[]): ChangeSet => ({ put: records, remove: [] });
const made = (document: Document): unknown => {
  const rig = compileRig(document);
  const programs = [...document.values()]
    .filter((r) => r.kind === 'scene' || r.kind === 'chase' || r.kind === 'effect')
    .map(({ id }) => compilePlay(rig, document, newPlay({ id: 'p', target: id as TargetId, startedAt: 0 })));
  return [rig.arrays, rig.placed, rig.areaChains, programs];
};

const LANE = make('lane', { id: 'lane:any', number: 1, songId: 'song:every' });

describe('silent fields', () => {
  const shows = [copperlineRink, millpondWalk].map((make) =>
    documentOf([...make(builtInProfiles(), standinAddresses('/tests')), toneSong(), LANE]),
  );
  for (const kind of RECORD_KINDS) {
    const { silent, madeOf } = KINDS[kind];
    if (silent.length === 0 || madeOf === 'ways') continue;
    test(`of a ${kind} make nothing else: ${silent.join(', ')}`, () => {
      const unknown = silent.find((field) => !(field in OTHER));
      assert.equal(unknown, undefined, 'say another value for it above');
      const document = shows.find((show) => recordsOf(show, kind).length > 0)!;
      const before = made(document);
      for (const field of silent) {
        const edited = recordsOf(document, kind)
          .slice(0, 3)
          .map((record) => ({ ...record, [field]: OTHER[field] }) as AnyRecord);
        const touch = touchOf(document, put(...edited));
        if (kind === 'unit' && field === 'tag' && touch.rig) continue;
        assert.deepEqual(touch, { rig: false, programs: false, ways: false }, field);
        assert.ok(isDeepStrictEqual(made(applyChange(document, put(...edited))), before), `${kind}.${field}`);
      }
    });
  }
});

describe('what an edit touches', () => {
  const document = showWith(
    ...units(
      { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
      { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2 },
    ),
    scene('s', { a: { Dimmer: 1 } }),
    chase('c', ['s']),
    make('output', { id: 'output:o', name: 'O', protocol: 'sacn', destinations: ['127.0.0.1'] }),
  );
  const edit = (id: string, fields: object, on = document) =>
    touchOf(on, put({ ...on.get(id as never)!, ...fields } as AnyRecord));
  test('an address makes another rig, a fade another program, a destination another way', () => {
    assert.deepEqual(edit('unit:a', { patch: { universe: 1, address: 9 } }), {
      rig: true,
      programs: true,
      ways: false,
    });
    assert.deepEqual(edit('scene:s', { fadeInMs: 9 }), { rig: false, programs: true, ways: false });
    assert.deepEqual(edit('output:o', { destinations: ['127.0.0.2'] }), { rig: false, programs: false, ways: true });
    assert.deepEqual(edit('show:test', { frameRate: 20 }), { rig: false, programs: false, ways: true });
  });
  test('what is new and what goes touch what they are made of', () => {
    assert.equal(touchOf(document, { put: [], remove: ['unit:b'] }).rig, true);
    assert.equal(touchOf(document, put({ ...document.get('scene:s')!, id: 'scene:n' } as AnyRecord)).programs, true);
    assert.deepEqual(touchOf(document, { put: [], remove: ['scene:nobody'] }), {
      rig: false,
      programs: false,
      ways: false,
    });
  });
  test('a name counts where a group takes its units in that order, and a tag where one takes them by it', () => {
    assert.equal(edit('unit:a', { name: 'Z', tag: 'x' }).rig, false);
    const rule = (fields: object) =>
      applyChange(
        document,
        put(make('group', { id: 'group:g', number: 1, name: 'G', unitIds: [], rule: fields as never })),
      );
    assert.equal(edit('unit:a', { name: 'Z' }, rule({ order: 'name' })).rig, true);
    assert.equal(edit('unit:a', { tag: 'x' }, rule({ tag: 'x' })).rig, true);
    assert.equal(edit('unit:a', { name: 'Z' }, rule({ tag: 'x' })).rig, false);
  });
  test('records are alike but for what is silent', () => {
    const unit = document.get('unit:a')!;
    assert.ok(isAlike(unit, { ...unit, name: 'Z' } as AnyRecord));
    assert.ok(!isAlike(unit, { ...unit, levelLimit: 0.4 } as AnyRecord));
    assert.ok(!isAlike(unit, document.get('scene:s')!));
  });
});

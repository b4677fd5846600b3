import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { describe, test } from 'node:test';
import { gzipSync, strToU8, unzipSync, strFromU8, zipSync } from 'fflate';
import fc from 'fast-check';
import { chase, scene, showWith, units } from '../../../tests/support/rig.ts';
import { everyKind, sampleBlobs, toneSong } from '../../../tests/support/sample-records.ts';
import { zeroBomb } from '../../../tests/support/zip.ts';
import { FaultError } from '../faults.ts';
import { make, type AnyRecord } from '../records/index.ts';
import { hashOf } from '../records/blob.ts';
import { ARCHIVE_LIMITS, ARCHIVE_VERSION, readArchive, writeArchive } from './archive.ts';

const records: AnyRecord[] = [
  ...showWith(
    ...units(
      { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
      { slug: 'b', profile: 'quillon-heron', mode: '16ch', address: null },
    ),
    scene('s', { a: { Dimmer: 0.123456789 }, b: { Gobo1: { range: 'Kites', at: 0.5 } } }),
    chase('c', ['s', 's']),
    make('group', { id: 'group:g', number: 1, name: 'Grüße 🪁', unitIds: ['unit:b', 'unit:a'] }),
    make('output', { id: 'output:o', name: 'Out', protocol: 'artnet', destinations: ['127.0.0.9'] }),
    make('route', { id: 'route:r', universe: 1, outputId: 'output:o', wireUniverse: 0 }),
  ).values(),
];
const file = writeArchive(records);
const byId = (list: readonly AnyRecord[]): AnyRecord[] => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
const codes = (bytes: Uint8Array): string[] => readArchive(bytes).faults.map((f) => f.code);

/** The archive with members changed or added. */
const withMembers = (members: Record<string, unknown>): Uint8Array =>
  zipSync({
    ...unzipSync(file),
    ...Object.fromEntries(
      Object.entries(members).map(([name, value]) => [
        name,
        strToU8(typeof value === 'string' ? value : JSON.stringify(value)),
      ]),
    ),
  });
const member = (name: string): Record<string, unknown>[] => JSON.parse(strFromU8(unzipSync(file)[name]!)) as never;

describe('a show archive', () => {
  test('round-trips every record exactly', () => {
    const back = readArchive(file);
    assert.deepEqual(back.faults, []);
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(records));
  });
  test('is the same file for the same records in any order', () => {
    assert.deepEqual(writeArchive([...records].reverse()), file);
  });
  test('of a read archive is the same file again', () => {
    assert.deepEqual(writeArchive(readArchive(file).records), file);
  });
  test('is not written from records that make no sound show', () => {
    assert.throws(() => writeArchive(records.filter((r) => r.id !== 'unit:a')), FaultError);
    assert.throws(() => writeArchive([]), FaultError);
  });
});

describe('an archive of version 1', () => {
  const old = readFileSync('tests/samples/show-version-1.kite');
  const reading = readArchive(old);
  test('is read, and what it did not know has its defaults', () => {
    assert.deepEqual([reading.version, reading.faults], [1, []]);
    const unit = reading.records.find((r) => r.kind === 'unit');
    assert.ok(unit?.kind === 'unit');
    assert.deepEqual(
      [unit.relation, unit.expectedEnd, unit.areaId, unit.tag, unit.walk],
      [null, null, null, null, null],
    );
    const group = reading.records.find((r) => r.kind === 'group');
    assert.ok(group?.kind === 'group' && group.rule === null && group.unitIds.length > 0);
    const shown = reading.records.find((r) => r.kind === 'show');
    assert.ok(shown?.kind === 'show' && shown.tags.length === 0 && shown.views.length === 0);
  });
  test('is written again as the present version, with the same records', () => {
    const back = readArchive(writeArchive(reading.records));
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(reading.records));
  });
});

describe('an archive of version 6', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-6.kite'));
  test('had pictures in its records: they come out as files, each once, and the show is the same', () => {
    assert.deepEqual(reading.faults, []);
    const pictures = reading.records.flatMap((r) => (r.kind === 'picture' ? [r] : []));
    assert.equal(pictures.length, 2);
    for (const { blob, bytes } of pictures) assert.equal(reading.blobs.get(blob)?.length, bytes);
    const back = readArchive(writeArchive(reading.records, reading.blobs));
    assert.deepEqual([back.faults, back.version], [[], ARCHIVE_VERSION]);
    assert.deepEqual(back.records, reading.records);
    assert.deepEqual([...back.blobs].sort(), [...reading.blobs].sort());
  });
  test('with what slots of a desk work as actions', () => {
    const input = reading.records.find((r) => r.id === 'input:every');
    assert.ok(input?.kind === 'input' && input.controls[0]!.does.do === 'level');
  });
});

describe('an archive of version 7', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-7.kite'));
  test('knew no things: units hang on none, rooms have walls, and the rest is the same', () => {
    assert.deepEqual(reading.faults, []);
    assert.ok(reading.records.every((r) => r.kind !== 'unit' || r.hungOn === null));
    assert.ok(reading.records.every((r) => r.kind !== 'show' || r.room.walls));
    const back = readArchive(writeArchive(reading.records, reading.blobs));
    assert.deepEqual([back.faults, back.version], [[], ARCHIVE_VERSION]);
    assert.deepEqual(back.records, reading.records);
  });
});

describe('an archive of version 8', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-8.kite'));
  test('knew no models, viewpoints and focus of lamps, and the rest is the same', () => {
    assert.deepEqual(reading.faults, []);
    assert.ok(reading.records.some((r) => r.kind === 'thing'));
    assert.ok(reading.records.every((r) => r.kind !== 'thing' || r.model === null));
    assert.ok(reading.records.every((r) => r.kind !== 'unit' || r.focus === null));
    assert.ok(reading.records.every((r) => r.kind !== 'show' || r.viewpoints.length === 0));
    const back = readArchive(writeArchive(reading.records, reading.blobs));
    assert.deepEqual([back.faults, back.version], [[], ARCHIVE_VERSION]);
    assert.deepEqual(back.records, reading.records);
  });
});

describe('an archive of version 9', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-9.kite'));
  test('knew no aims, rooms, keep-outs and limits of movement, and the rest is the same', () => {
    assert.deepEqual(reading.faults, []);
    assert.ok(reading.records.some((r) => r.kind === 'unit' && r.focus !== null));
    assert.ok(reading.records.every((r) => r.kind !== 'aim' && r.kind !== 'room'));
    assert.ok(reading.records.every((r) => r.kind !== 'unit' || r.movement === null));
    assert.ok(reading.records.every((r) => (r.kind !== 'area' && r.kind !== 'thing') || r.keepOut === null));
    assert.ok(reading.records.every((r) => r.kind !== 'chase' || r.travel === 'turn'));
    const back = readArchive(writeArchive(reading.records, reading.blobs));
    assert.deepEqual([back.faults, back.version], [[], ARCHIVE_VERSION]);
    assert.deepEqual(back.records, reading.records);
  });
});

describe('an archive of version 10', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-10.kite'));
  test('knew no songs and lists of them, and the rest is the same', () => {
    assert.deepEqual(reading.faults, []);
    assert.ok(
      reading.records.some((r) => r.kind === 'aim'),
      'aims are in it',
    );
    assert.ok(
      reading.records.some((r) => r.kind === 'room' && r.kept !== null),
      'rooms are in it',
    );
    assert.ok(reading.records.every((r) => r.kind !== 'song' && r.kind !== 'setlist'));
    const back = readArchive(writeArchive(reading.records, reading.blobs));
    assert.deepEqual([back.faults, back.version], [[], ARCHIVE_VERSION]);
    assert.deepEqual(back.records, reading.records);
  });
});

describe('songs in an archive', () => {
  const records = everyKind();
  const tone = toneSong();
  test('are left out where their files are not given, and the rest is whole', () => {
    const without = new Map([...sampleBlobs()].filter(([hash]) => hash !== tone.blob));
    const back = readArchive(writeArchive(records, without));
    assert.deepEqual(back.faults, []);
    assert.equal(back.blobs.has(tone.blob!), false);
    assert.deepEqual(
      back.records.find((r) => r.kind === 'song'),
      tone,
    );
    const whole = readArchive(writeArchive(records, sampleBlobs()));
    assert.ok(whole.blobs.has(tone.blob!), 'the file came along');
  });
  test('a picture that is missing is still refused', () => {
    const without = new Map([...sampleBlobs()].filter(([hash]) => hash === tone.blob));
    assert.throws(() => writeArchive(records, without), FaultError);
  });
});

describe('files in an archive', () => {
  const { records: all, blobs } = readArchive(readFileSync('tests/samples/show-version-6.kite'));
  const whole = unzipSync(writeArchive(all, blobs));
  const [name] = Object.keys(whole).filter((member) => member.startsWith('blobs/')) as [string, ...string[]];
  const faultsWith = (members: Record<string, Uint8Array>): string[] => {
    const { faults } = readArchive(zipSync(members));
    return faults.map((f) => `${f.code} ${f.path}`);
  };
  test('that are missing, mixed up, or nothing that is kept, are named', () => {
    const { [name]: bytes, ...without } = whole;
    assert.match(faultsWith(without)[0]!, /^BLOB_MISSING picture:.*\.blob$/);
    assert.equal(faultsWith({ ...without, [name]: bytes!.slice(1) })[0], `BLOB_MIXED_UP ${name}`);
    const text = strToU8('<svg/>');
    const stray = `blobs/${hashOf(text)}`;
    assert.equal(faultsWith({ ...whole, [stray]: text })[0], `BLOB_TYPE ${stray}`);
    assert.match(faultsWith({ ...whole, 'blobs/short': text })[0]!, /^MEMBER_NAME/);
  });
  test('a show whose files are not given is not written', () => {
    assert.throws(
      () => writeArchive(all),
      (e: unknown) => e instanceof FaultError && e.faults[0]!.code === 'BLOB_MISSING',
    );
  });
});

describe('an archive of version 5', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-5.kite'));
  test('is read, and second ports, names of slots, flux and first papers have their defaults', () => {
    assert.deepEqual([reading.version, reading.faults], [5, []]);
    const show = reading.records.find((r) => r.kind === 'show');
    assert.ok(show?.kind === 'show');
    assert.deepEqual([show.slotNames, show.firstPaper, show.paperViews], [{}, 'plan', {}]);
    const outputs = reading.records.flatMap((r) => (r.kind === 'output' ? [r] : []));
    assert.ok(outputs.length > 0 && outputs.every((o) => o.serialLabel2 === null));
    const profiles = reading.records.flatMap((r) => (r.kind === 'profile' ? [r] : []));
    assert.ok(profiles.length > 5 && profiles.every((p) => p.physical.fluxLm === undefined));
  });
  test('is written again as the present version, with the same records', () => {
    const back = readArchive(writeArchive(reading.records));
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(reading.records));
  });
});

describe('an archive of version 4', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-4.kite'));
  test('is read, and scenes, chases, groups and the show have what came since as defaults', () => {
    assert.deepEqual([reading.version, reading.faults], [4, []]);
    const of = <K extends 'scene' | 'chase' | 'group'>(kind: K) => reading.records.filter((r) => r.kind === kind);
    assert.ok(of('scene').every((s) => s.kind === 'scene' && s.delayMs === 0 && s.mood === null && s.folder === ''));
    assert.ok(of('chase').every((c) => c.kind === 'chase' && c.steps.every((step) => step.sceneId !== undefined)));
    assert.ok(of('group').every((g) => g.kind === 'group' && g.levelLimit === 1));
    const show = reading.records.find((r) => r.kind === 'show');
    assert.ok(show?.kind === 'show' && show.beatsPerBar === 4 && show.safety.limitFlashes);
  });
  test('is written again as the present version, with the same records', () => {
    const back = readArchive(writeArchive(reading.records));
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(reading.records));
  });
});

describe('an archive of version 3', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-3.kite'));
  test('is read, and props, outlines and locks have their defaults; places of cells stay', () => {
    assert.deepEqual([reading.version, reading.faults], [3, []]);
    const units = reading.records.flatMap((r) => (r.kind === 'unit' ? [r] : []));
    assert.ok(units.length > 20 && units.every((u) => u.prop === null && !u.locked));
    assert.ok(units.some((u) => u.cellPlaces !== null));
    const areas = reading.records.flatMap((r) => (r.kind === 'area' ? [r] : []));
    assert.ok(areas.length > 0 && areas.every((a) => a.outline === null && !a.locked));
    const show = reading.records.find((r) => r.kind === 'show');
    assert.ok(show?.kind === 'show' && show.lengths === 'metres' && show.guides.length === 0);
  });
  test('is written again as the present version, with the same records', () => {
    const back = readArchive(writeArchive(reading.records));
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(reading.records));
  });
});

describe('an archive of version 2', () => {
  const reading = readArchive(readFileSync('tests/samples/show-version-2.kite'));
  test('is read, and cables, other ways out and limits have their defaults', () => {
    assert.deepEqual([reading.version, reading.faults], [2, []]);
    const line = reading.records.find((r) => r.kind === 'line');
    assert.ok(line?.kind === 'line' && line.unitIds.length > 0);
    assert.deepEqual([line.medium, line.connector, line.terminated, line.cables], ['dmx', 'xlr5', false, {}]);
    const output = reading.records.find((r) => r.kind === 'output');
    assert.ok(output?.kind === 'output');
    assert.deepEqual([output.delivery, output.frameRateCap, output.syncUniverse], ['listed', null, null]);
    const unit = reading.records.find((r) => r.kind === 'unit');
    assert.ok(unit?.kind === 'unit' && unit.levelLimit === 1 && unit.rdmUid === null);
  });
  test('is written again as the present version, with the same records', () => {
    const back = readArchive(writeArchive(reading.records));
    assert.equal(back.version, ARCHIVE_VERSION);
    assert.deepEqual(byId(back.records), byId(reading.records));
  });
});

describe('hostile archives', () => {
  test('no zip at all', () => {
    for (const bytes of [new Uint8Array(0), strToU8('hello'), gzipSync(strToU8('hello')), new Uint8Array(5000)])
      assert.deepEqual(codes(bytes), ['NOT_AN_ARCHIVE']);
  });
  test('too large to look at', () => {
    assert.deepEqual(codes(new Uint8Array(ARCHIVE_LIMITS.fileBytes + 1)), ['ARCHIVE_TOO_LARGE']);
  });
  test('a bomb is stopped while it unpacks', () => {
    const bomb = zeroBomb(['manifest.json'], 2 * ARCHIVE_LIMITS.unpackedBytes);
    assert.ok(bomb.length < 2_000_000, 'it is small');
    assert.deepEqual(codes(bomb), ['ARCHIVE_BOMB']);
  });
  test('many members that are a bomb together', () => {
    const names = ['a', 'b', 'c', 'd'].map((n) => `records/${n}.json`);
    assert.deepEqual(codes(zeroBomb(names, ARCHIVE_LIMITS.unpackedBytes / 4 + 1)), ['ARCHIVE_BOMB']);
  });
  test('files that are a bomb together', () => {
    const names = ['a', 'b', 'c', 'd', 'e'].map((n) => `blobs/${n.repeat(64)}`);
    assert.deepEqual(codes(zeroBomb(names, ARCHIVE_LIMITS.blobBytes / 5 + 1)), ['ARCHIVE_BOMB']);
  });
  for (const name of [
    '../evil.json',
    '/etc/passwd',
    'records/../../x.json',
    'records\\show.json',
    'records/sub/x.json',
    'C:x.json',
  ])
    test(`a member called ${name}`, () => {
      const faults = readArchive(zipSync({ [name]: strToU8('[]') })).faults;
      assert.deepEqual(
        faults.map((f) => f.code),
        ['MEMBER_NAME'],
      );
      assert.equal(faults[0]?.path, name);
    });
  test('too many members', () => {
    const letters = 'abcdefghijklmnopqrstuvwxyz';
    const names = [...letters].flatMap((a) =>
      [...letters].flatMap((b) => [...letters].slice(0, 7).map((c) => `records/${a}${b}${c}.json`)),
    );
    assert.deepEqual(codes(zipSync(Object.fromEntries(names.map((n) => [n, strToU8('[]')])))), ['TOO_MANY_MEMBERS']);
  });
  test('another version, with what to do about it', () => {
    const newer = readArchive(
      withMembers({ 'manifest.json': { format: 'amber-kite show', version: ARCHIVE_VERSION + 1, show: 'X' } }),
    );
    assert.deepEqual(
      newer.faults.map((f) => [f.code, f.path, f.received]),
      [['ARCHIVE_VERSION', 'manifest.json.version', ARCHIVE_VERSION + 1]],
    );
    assert.match(newer.faults[0]!.remedy, /newer/);
    assert.deepEqual(codes(withMembers({ 'manifest.json': { format: 'amber-kite show', version: 0, show: 'X' } })), [
      'ARCHIVE_VERSION',
    ]);
  });
  test('a manifest that is none', () => {
    assert.deepEqual(codes(withMembers({ 'manifest.json': '{"version":' })), ['NOT_JSON']);
    assert.deepEqual(codes(withMembers({ 'manifest.json': { format: 'something', version: 1, show: '' } })), [
      'BAD_VALUE',
    ]);
    assert.deepEqual(codes(zipSync({ 'records/show.json': strToU8('[]') })), ['NO_MANIFEST']);
    for (const odd of ['null', '[]', '5', '"x"']) assert.ok(codes(withMembers({ 'manifest.json': odd })).length > 0);
  });
  test('records of the wrong kind, twice, unknown or not a list', () => {
    assert.deepEqual(codes(withMembers({ 'records/gizmo.json': '[]' })), ['UNKNOWN_KIND']);
    assert.deepEqual(codes(withMembers({ 'records/group.json': '{}' })), ['NOT_A_LIST']);
    const [unit] = member('records/unit.json');
    assert.deepEqual(codes(withMembers({ 'records/group.json': [unit] })), ['WRONG_KIND']);
    assert.deepEqual(codes(withMembers({ 'records/unit.json': [...member('records/unit.json'), unit] })), ['ID_TWICE']);
  });
  test('a faulty value is named with file, place and value', () => {
    const list = member('records/unit.json');
    const faults = readArchive(
      withMembers({ 'records/unit.json': [{ ...list[0], number: 'one' }, ...list.slice(1)] }),
    ).faults;
    assert.deepEqual(
      faults.map((f) => [f.path, f.received]),
      [['records/unit.json.0.number', 'one']],
    );
  });
  test('something that dangles', () => {
    assert.deepEqual(codes(withMembers({ 'records/unit.json': '[]' })).includes('UNKNOWN_ID'), true);
  });
  test('a file cut off anywhere is refused, and never an exception', () => {
    for (let length = 0; length < file.length; length += 97) assert.ok(codes(file.subarray(0, length)).length > 0);
  });
  test('bytes changed anywhere give faults or the same show, never an exception', () => {
    const change = fc.tuple(fc.integer({ min: 4, max: file.length - 1 }), fc.integer({ min: 0, max: 255 }));
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 5 }), (changes) => {
        const bytes = file.slice();
        for (const [i, value] of changes) bytes[i] = value;
        readArchive(bytes);
      }),
      { numRuns: 300 },
    );
  });
  test('deep nesting does not overflow', () => {
    const deep = `${'['.repeat(100_000)}${']'.repeat(100_000)}`;
    assert.ok(codes(withMembers({ 'records/scene.json': deep })).length > 0);
  });
});

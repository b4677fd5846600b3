import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { zeroBomb } from '../../../tests/support/zip.ts';
import { builtInProfiles } from '../profile/library.ts';
import { readProfiles, sameContent, writeProfiles } from './profiles.ts';

const library = builtInProfiles();
const byId = (list: readonly { id: string }[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
const file = writeProfiles(library.slice(0, 5));
const codes = (bytes: Uint8Array): string[] => readProfiles(bytes).faults.map((f) => f.code);
const withList = (change: (list: Record<string, unknown>[]) => unknown): Uint8Array => {
  const members = unzipSync(file);
  const list = JSON.parse(strFromU8(members['profiles.json']!)) as Record<string, unknown>[];
  return zipSync({ ...members, 'profiles.json': strToU8(JSON.stringify(change(list))) });
};

describe('a file of profiles', () => {
  test('holds the whole library exactly, in any order the same', () => {
    const { profiles, faults } = readProfiles(writeProfiles(library));
    assert.deepEqual(faults, []);
    assert.deepEqual(byId(profiles), byId(library));
    assert.deepEqual(writeProfiles([...library].reverse()), writeProfiles(library));
  });
  test('with a faulty profile gives the others', () => {
    const read = readProfiles(
      withList(([a, b, ...rest]) => [
        { ...a, channels: [] },
        { ...b, modes: [{ key: 'x', name: 'X', slots: [{ channel: 'none' }] }] },
        ...rest,
      ]),
    );
    assert.equal(read.profiles.length, 3);
    assert.ok(read.faults.some((f) => f.path === 'profiles.json.0.channels'));
    assert.ok(read.faults.some((f) => f.code === 'UNKNOWN_CHANNEL' && f.path.startsWith('profiles.json.1.')));
  });
  test('that is none is refused with what it is', () => {
    assert.deepEqual(codes(strToU8('x')), ['NOT_AN_ARCHIVE']);
    assert.deepEqual(
      codes(
        zipSync({
          'manifest.json': strToU8('{"format":"amber-kite show","version":1}'),
          'profiles.json': strToU8('[]'),
        }),
      ),
      ['NOT_PROFILES'],
    );
    assert.deepEqual(
      codes(
        zipSync({
          'manifest.json': strToU8('{"format":"amber-kite profiles","version":2}'),
          'profiles.json': strToU8('[]'),
        }),
      ),
      ['ARCHIVE_VERSION'],
    );
    assert.deepEqual(codes(zipSync({ '../profiles.json': strToU8('[]') })), ['MEMBER_NAME']);
    assert.deepEqual(codes(withList(() => ({}))), ['NOT_A_LIST']);
    assert.deepEqual(codes(withList((list) => [list[0], list[0]])), ['ID_TWICE']);
    assert.deepEqual(codes(zeroBomb(['profiles.json'], 256 * 1024 * 1024)), ['ARCHIVE_BOMB']);
  });
});

test('profiles are the same when they say the same, whatever their id and revision', () => {
  const [a] = library;
  assert.ok(sameContent(a!, { ...a!, id: 'profile:other', revision: 9 }));
  assert.ok(!sameContent(a!, { ...a!, notes: 'x' }));
});

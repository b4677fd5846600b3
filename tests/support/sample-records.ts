import { standinAddresses } from '../../src/addresses.ts';
import { RECORD_KINDS, type RecordKind } from '../../src/core/ids.ts';
import { writeWav } from '../../src/core/format/wav.ts';
import { writeMesh } from '../../src/core/format/mesh.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { make, type AnyRecord, type LaneRecord, type RecordOf } from '../../src/core/records/index.ts';
import { documentOf } from '../../src/core/document/change.ts';
import { keptRoom } from '../../src/core/edits/rooms.ts';
import { copperlineRink } from '../../src/db/seed/copperline.ts';
import { addBlob } from '../../src/db/blobs.ts';
import type { Database } from '../../src/db/connect.ts';
import { drawPng } from '../../src/db/seed/png.ts';
import { hashOf, type BlobFile, type Blobs } from '../../src/core/records/blob.ts';
import { millpondFiles, millpondWalk } from '../../src/db/seed/millpond.ts';

const DOT_BYTES = drawPng(1, 1, () => [9, 9, 9]);
const DOT: BlobFile = { hash: hashOf(DOT_BYTES), bytes: DOT_BYTES };
const WEDGE_BYTES = writeMesh({
  places: Float32Array.of(-0.5, -0.5, 0, 0.5, -0.5, 0, 0, 0.5, 1),
  colours: new Uint8Array(12).fill(200),
  index: Uint32Array.of(0, 1, 2),
});
/** A model of one triangle. */
export const WEDGE: BlobFile = { hash: hashOf(WEDGE_BYTES), bytes: WEDGE_BYTES };

const TONE_BYTES = writeWav([Float32Array.from({ length: 800 }, (_, i) => Math.sin(i / 3) / 2)], 8000);
/** A tenth of a second of sound. */
const TONE: BlobFile = { hash: hashOf(TONE_BYTES), bytes: TONE_BYTES };

/** A song of that, as it was heard and set right. */
export const toneSong = (): RecordOf['song'] =>
  make('song', {
    id: 'song:every',
    number: 1,
    name: 'Tone',
    artist: 'Nobody',
    blob: TONE.hash,
    type: 'audio/wav',
    bytes: TONE.bytes.length,
    lengthS: 8,
    heard: {
      ear: 1,
      bpm: 120,
      confidence: { beats: 0.9, bars: 0.5, sections: 0 },
      beats: [0.5, 1, 1.5, 2, 2.5, 3],
      bars: [{ at: 0.5, beats: 4 }],
      sections: [{ at: 0, name: 'A', mood: 'easy', turn: null }],
      loudness: -12,
    },
    mended: { stretches: [{ from: 1.9, to: 2.2, beats: [2.05] }], bars: null, sections: null },
  });

/** A way of Auto that names what a show has of its own. */
function taught(records: readonly AnyRecord[]): AnyRecord {
  const of = (kind: RecordKind): string => records.find((r) => r.kind === kind)!.id;
  return make('variant', {
    id: 'variant:every',
    number: 1,
    name: 'Quiet Sunday',
    moods: {
      easy: { bars: 16, roles: { wash: { also: [of('scene'), of('chase')], never: ['change'], every: 2 } } },
      peak: { roles: { beams: { plays: false, also: [of('aim')] }, pixels: { also: [of('effect')] } } },
    },
    colours: ['#ffb347', '#3050ff'],
    silence: { afterS: 45, sceneId: of('scene') as `scene:${string}` },
  });
}

/** A lane of the song, with a block of every kind. */
function laneOf(records: readonly AnyRecord[]): AnyRecord {
  const of = (kind: RecordKind): string => records.find((r) => r.kind === kind)!.id;
  const spec = { parts: [{ does: 'aim' as const, round: of('aim') as `aim:${string}` }] };
  return make('lane', {
    id: 'lane:every',
    number: 1,
    songId: 'song:every',
    on: of('group') as `group:${string}`,
    blocks: [
      {
        key: 'a',
        at: 0,
        length: 1,
        plays: { is: 'play', target: of('scene') as `scene:${string}` },
        fadeIn: 0.2,
        curves: {
          level: [
            { at: 0, value: 0 },
            { at: 1, value: 1, shape: 'ease' },
          ],
        },
      },
      { key: 'b', at: 1, length: 1, plays: { is: 'effect', name: 'Round', spec }, slip: 1, layer: 1 },
      { key: 'c', at: 2, length: 1, plays: { is: 'aim', aimId: of('aim') as `aim:${string}` } },
      { key: 'd', at: 3, length: 1, plays: { is: 'gone', name: 'Old look' } },
    ],
  });
}

/** A part of that lane, kept by name. */
function passageOf(records: readonly AnyRecord[]): AnyRecord {
  const { on, blocks } = laneOf(records) as LaneRecord;
  return make('passage', {
    id: 'passage:every',
    number: 1,
    name: 'Refrain',
    beats: 8,
    lanes: [{ on, name: 'Bars', blocks }],
  });
}

/** The files that the sample names. */
export const sampleFiles = (): readonly BlobFile[] => [DOT, WEDGE, TONE, ...millpondFiles()];
/** The same by their hashes. */
export const sampleBlobs = (): Blobs => new Map(sampleFiles().map(({ hash, bytes }) => [hash, bytes]));
/** Says to a database that files are here. */
export async function bringIn(db: Database, files: readonly BlobFile[] = sampleFiles()): Promise<void> {
  for (const { hash, bytes } of files) await addBlob(db, { hash, type: 'image/png', bytes: bytes.length });
}

/** Both demo shows in one, and what neither has: records of every kind. */
export function everyKind(showId: `show:${string}` = 'show:every'): AnyRecord[] {
  const shows = [copperlineRink, millpondWalk].map((seed) => seed(builtInProfiles(), standinAddresses('/tests')));
  const found = new Map<string, AnyRecord>();
  for (const record of shows.flat()) if (record.kind !== 'show') found.set(record.id, { ...record });
  let number = 0;
  // Numbers of the two shows may be the same.
  const records = [...found.values()].map((r) => (r.kind === 'unit' ? { ...r, number: ++number } : r));
  const show = {
    ...shows[0]!.find((r) => r.kind === 'show')!,
    id: showId,
    viewpoints: [{ key: 'view1', name: 'From here', eye: { x: 1, y: -9, z: 2 }, target: { x: 0, y: 0, z: 1 } }],
  } as AnyRecord;
  const unit = records.find((r) => r.kind === 'unit')!;
  const picture = make('picture', {
    id: 'picture:every',
    name: 'Dot',
    widthPx: 1,
    heightPx: 1,
    type: 'image/png',
    bytes: DOT.bytes.length,
    blob: DOT.hash,
  });
  const elsewhere = keptRoom(documentOf([show, ...records]));
  const more: AnyRecord[] = [
    make('room', { id: 'room:every', number: 1, name: 'Other hall', kept: elsewhere }),
    picture,
    wedgeThing(),
    toneSong(),
    // Plain time, which has no sound.
    make('song', {
      id: 'song:plain',
      number: 2,
      name: 'Plain',
      blob: null,
      type: null,
      bytes: 0,
      lengthS: 60,
      codeAt: 3600,
    }),
    make('setlist', { id: 'setlist:every', number: 1, name: 'All', songs: ['song:every'] }),
    taught(records),
    laneOf(records),
    passageOf(records),
    make('backdrop', { id: 'backdrop:every', name: 'Under', pictureId: picture.id, side: 'plan', widthM: 2 }),
    make('input', {
      id: 'input:every',
      name: 'Desk',
      protocol: 'sacn',
      controls: [
        { wireUniverse: 1, address: 1, does: { do: 'level', of: { what: 'unit', id: unit.id as `unit:${string}` } } },
      ],
    }),
  ];
  return [show, ...records, ...more];
}

/** A thing that is drawn as the model of one triangle. */
export const wedgeThing = (): RecordOf['thing'] =>
  make('thing', {
    id: 'thing:every',
    number: 900,
    name: 'Wedge',
    shape: 'model',
    size: { widthM: 1, depthM: 2, heightM: 3 },
    model: { blob: WEDGE.hash, bytes: WEDGE.bytes.length, triangles: 1, of: 1, file: 'wedge.glb' },
  });

/** One record of each kind out of a list. */
export const oneOfEach = (records: readonly AnyRecord[]): Map<RecordKind, AnyRecord> =>
  new Map(RECORD_KINDS.map((kind) => [kind, records.find((r) => r.kind === kind)!]));

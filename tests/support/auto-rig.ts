import { documentOf, recordsOf, type Document } from '../../src/core/document/change.ts';
import { NOTHING_ASKED, type Asked } from '../../src/core/auto/plan.ts';
import { SongShow } from '../../src/core/auto/song-show.ts';
import { autoDueMs, stepAuto } from '../../src/core/auto/step.ts';
import type { UnitId } from '../../src/core/ids.ts';
import { makeReader, readCell, type CellLight } from '../../src/core/patch/readout.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { seeded } from '../../src/core/random.ts';
import { MOODS } from '../../src/core/records/profile.ts';
import { make, type AnyRecord, type ProfileRecord, type SongRecord } from '../../src/core/records/index.ts';
import {
  applyLive,
  compilePlay,
  compileRig,
  FlashGuard,
  makeFrame,
  prepareLive,
  render,
  type LiveCommand,
  type LiveState,
} from '../../src/core/show/index.ts';

export const BPM = 120;
export const BAR_S = (60 / BPM) * 4;
/** A song of bars of four: an easy section, a build, a drop at peak, a break, the first again. */
export function song(): SongRecord {
  const beats = Array.from({ length: 48 * 4 }, (_, i) => 0.5 + (i * 60) / BPM);
  const at = (bar: number): number => 0.5 + bar * BAR_S;
  return make('song', {
    id: 'song:one',
    number: 1,
    name: 'One',
    blob: 'a'.repeat(64),
    type: 'audio/wav',
    bytes: 1,
    lengthS: at(48) + 1,
    heard: {
      ear: 1,
      bpm: BPM,
      confidence: { beats: 1, bars: 1, sections: 1 },
      beats,
      bars: [{ at: 0.5, beats: 4 }],
      sections: [
        { at: 0, name: 'A', mood: 'easy', turn: null },
        { at: at(16), name: 'B', mood: 'strong', turn: 'build' },
        { at: at(24), name: 'C', mood: 'peak', turn: 'drop' },
        { at: at(32), name: 'D', mood: 'easy', turn: 'break' },
        { at: at(40), name: 'A', mood: 'easy', turn: null },
      ],
      loudness: -14,
    },
  });
}

export const profileOf = (kind: ProfileRecord['fixtureKind'], cells = 1): ProfileRecord =>
  builtInProfiles().find((p) => p.fixtureKind === kind && (cells === 1 || p.modes.length > 0))!;
/** A show with units of these profiles, one after the other. */
export function rigOf(profiles: readonly ProfileRecord[]): Document {
  const records: AnyRecord[] = [make('show', { id: 'show:auto', name: 'Auto' }), song()];
  let universe = 1;
  profiles.forEach((profile, i) => {
    if (!records.includes(profile)) records.push(profile);
    records.push(
      make('unit', {
        id: `unit:u${i}`,
        number: i + 1,
        name: `Unit ${i + 1}`,
        profileId: profile.id,
        mode: profile.modes[0]!.key,
        patch: { universe: universe++, address: 1 },
      }),
    );
  });
  return documentOf(records);
}
export const showOf = (document: Document, seed = 1, asked: Partial<Asked> = {}): SongShow =>
  new SongShow(document, recordsOf(document, 'song')[0]!, { ...NOTHING_ASKED, seed, ...asked });

/** Bytes of a moment of the show, with the guard having seen what came before it in the same second. */
export function frames(document: Document, show: SongShow, moments: readonly number[]): Uint8Array[] {
  const rig = compileRig(document);
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, recordsOf(document, 'show')[0]!.safety);
  return moments.map((at) => {
    const live = prepareLive(rig, show.at(at), (play) => compilePlay(rig, document, play), document);
    return render(rig.arrays, live, at * 1000, frame, guard).slice();
  });
}
export const restOf = (document: Document): Uint8Array => {
  const rig = compileRig(document);
  const live = prepareLive(rig, { ...showOf(document).at(0), playing: [] }, () => null, document);
  return render(rig.arrays, live, 0, makeFrame(rig.arrays)).slice();
};
export const PLENTY = [
  profileOf('par'),
  profileOf('head'),
  profileOf('derby'),
  profileOf('strobe'),
  profileOf('strip'),
];

/** A song nobody wrote: a tempo of 60 to 200, bars of 3 to 5, sections of any mood and turn. */
export function randomSong(seed: number): SongRecord {
  const random = seeded(seed);
  const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const bpm = 60 + 140 * random();
  const metre = one([3, 4, 5]);
  const beats = Array.from({ length: Math.floor(bpm) }, (_, i) => Math.round((0.4 + (i * 60) / bpm) * 1e4) / 1e4);
  const starts = beats.filter((_, i) => i % (metre * 4) === 0);
  const { heard, ...plain } = song();
  return {
    ...plain,
    lengthS: 62,
    heard: {
      ...heard!,
      bpm,
      beats,
      bars: [{ at: beats[0]!, beats: metre }],
      snares: [Math.floor(random() * metre)],
      sections: starts.map((at, i) => ({
        at: i === 0 ? 0 : at,
        name: one(['A', 'B', 'C']),
        mood: one(MOODS),
        turn: one([null, null, 'build', 'drop', 'break'] as const),
      })),
    },
  };
}

/** A command, and what runs by itself after it. */
export const commanded = (document: Document, live: LiveState, given: LiveCommand, ms: number): LiveState =>
  stepAuto(document, applyLive(live, given, ms, 'new', document), ms);

/** Goes on from due to due until a moment, as the engine does; when another phrase began. */
export function until(
  document: Document,
  live: LiveState,
  fromMs: number,
  ms: number,
): { live: LiveState; changes: number[] } {
  const changes: number[] = [];
  let now = live;
  let at = fromMs;
  for (let due = autoDueMs(now, at); due !== null && due <= ms; due = autoDueMs(now, at)) {
    at = Math.max(due, at + 1);
    const next = stepAuto(document, now, at);
    if (next.auto?.now?.key !== now.auto?.now?.key) changes.push(due);
    now = next;
  }
  return { live: now, changes };
}

/** Units that give light in a frame: as a reader of what is sent sees them. */
export function litIn(document: Document, bytes: Uint8Array): UnitId[] {
  const { universes } = compileRig(document).arrays;
  const sent = new Map(Array.from(universes, (u, i) => [u as number, bytes.subarray(i * 512, i * 512 + 512)]));
  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  return recordsOf(document, 'unit').flatMap((unit) => {
    const reader = makeReader(document, unit);
    const lit = reader.cells.some((_, cell) => {
      const { r, g, b } = readCell(reader, cell, sent, light);
      return r + g + b > 0.02;
    });
    return lit ? [unit.id] : [];
  });
}

/** The bytes of a live state at a moment. */
export function bytesOf(document: Document, live: LiveState, ms: number): Uint8Array {
  const rig = compileRig(document);
  const prepared = prepareLive(rig, live, (play) => compilePlay(rig, document, play), document);
  return render(rig.arrays, prepared, ms, makeFrame(rig.arrays)).slice();
}

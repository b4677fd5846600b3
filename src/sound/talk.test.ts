import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { Follower, type Announcement } from '../core/music/follow.ts';
import { modulo } from '../core/units.ts';
import { resampled } from '../core/music/sound.ts';
import { decodeSound } from './decode.ts';
import { synthesise, type Note } from './synth.ts';

const RATE = 22_050;
const BEAT_S = 60 / 126;

/** Somebody who makes announcements, spoken by a machine from a text of ours. */
async function talk(): Promise<Float32Array> {
  const sound = await decodeSound(new Uint8Array(readFileSync('tests/samples/sound/talk.opus')), 'talk.opus');
  return resampled(sound, RATE).samples;
}

function drums(seconds: number): Float32Array {
  const notes: Note[] = [];
  for (let i = 0, at = 0.25; at < seconds; i++, at += BEAT_S) {
    notes.push({ at, as: i % 2 === 0 ? 'kick' : 'snare', loud: 1, hz: 60, long: 0.2 });
    notes.push({ at: at + BEAT_S / 2, as: 'hat', loud: 0.4, hz: 60, long: 0.1 });
  }
  return synthesise({ notes, seconds }, undefined, 1, RATE).samples;
}

/** What was announced in sounds one after the other. */
function announced(...sounds: Float32Array[]): Announcement[] {
  const ear = new Follower(RATE);
  return sounds.flatMap((samples) => ear.feed(samples));
}

test('in speech no beat is announced', async () => {
  assert.deepEqual(announced(await talk()), []);
});

test('music is followed as soon as it comes after speech, and let go when there is speech again', async () => {
  const said = await talk();
  const [before, music] = [said.length / RATE, 20];
  const all = announced(said, drums(music), said).map((a) => ({ ...a, at: a.at - before }));
  const during = all.filter(({ at }) => at < music);
  assert.ok(during[0]!.at > 0 && during[0]!.at < 7, `the first ${during[0]!.at} s after the music began`);
  // All or every other one: which of the two is the beat of such drums is for a tap to say.
  assert.ok(during.length >= 12, `${during.length} beats in ${music} s`);
  for (const { at } of during) {
    const off = modulo(at - 0.25 + BEAT_S / 2, BEAT_S) - BEAT_S / 2;
    assert.ok(Math.abs(off) < 0.07, `at ${at.toFixed(2)} s ${Math.round(off * 1000)} ms beside a beat`);
  }
  const late = all.filter(({ at }) => at > music + 12);
  assert.deepEqual(late, [], 'nothing is announced when somebody has talked for a while');
});

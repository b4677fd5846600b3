import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { describe, test } from 'node:test';
import { compose } from '../../bench/music/compose.ts';
import { synthesise } from '../../src/sound/synth.ts';
import { beatMeasures } from '../../src/core/music/measures.ts';
import { temporaryFolder } from '../support/app.ts';
import { kite, kiteLines } from '../support/kite.ts';
import { writeWav } from '../../src/core/format/wav.ts';

const folder = temporaryFolder();
const file = (name: string): string => path.join(folder, name);

describe('kite music', () => {
  test('analyse: beats, bars and tempo of a song as it was composed; what is no song is refused', async () => {
    const piece = compose(21, 'pop', 'steady', 20);
    const { rate, samples } = synthesise(piece);
    writeFileSync(file('song.wav'), writeWav([samples, samples], rate));
    const { code, out } = await kite('music', 'analyse', file('song.wav'));
    const heard = out as { bpm: number; metre: number; beats: number[]; sections: unknown[]; elapsed: number };
    assert.equal(code, 0);
    assert.ok(beatMeasures(heard.beats, piece.beats).f > 0.9, 'beats');
    assert.ok(Math.abs(heard.bpm - piece.bpm) < piece.bpm * 0.03, `${heard.bpm} of ${piece.bpm}`);
    assert.deepEqual([heard.metre, heard.sections.length > 0, heard.elapsed > 0], [4, true, true]);
    const lines = await kiteLines('music', 'follow', file('song.wav'));
    const said = lines.slice(0, -1) as { at: number; emittedAt: number }[];
    assert.ok(
      beatMeasures(
        said.map((a) => a.at),
        piece.beats,
      ).f > 0.8,
      'beats that were announced',
    );
    assert.equal((lines.at(-1) as { announced: number }).announced, said.length);
    writeFileSync(file('letter.mp3'), 'Dear friend, this is a letter.');
    const bad = await kite('music', 'analyse', file('letter.mp3'));
    assert.deepEqual([bad.code, bad.fault?.['code']], [2, 'SOUND_UNKNOWN']);
  });
});

import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { writeWav } from '../core/format/wav.ts';
import { FaultError } from '../core/faults.ts';
import { rms } from '../core/music/sound.ts';
import { soundKind } from '../core/format/sound-kind.ts';
import { decodeSound } from './decode.ts';

const tone = (rate: number, seconds = 1, hz = 440): Float32Array =>
  Float32Array.from({ length: Math.round(rate * seconds) }, (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / rate));
const sample = (name: string): Uint8Array => new Uint8Array(readFileSync(`tests/samples/sound/${name}`));
const codeOf = async (bytes: Uint8Array): Promise<string> => {
  try {
    await decodeSound(bytes, 'file');
    return 'read';
  } catch (error) {
    assert.ok(error instanceof FaultError, String((error as Error).stack));
    const [fault] = error.faults;
    assert.ok(fault!.path === 'file' && fault!.remedy.length > 0, 'the place and the remedy');
    return fault!.code;
  }
};

describe('files of sound', () => {
  for (const bits of [8, 16, 24, 32, 'float'] as const)
    for (const rate of [8000, 44_100, 192_000])
      test(`WAV of ${bits} bit and ${rate} samples a second`, async () => {
        const { rate: read, samples } = await decodeSound(writeWav([tone(rate)], rate, bits), 'file');
        assert.equal(read, rate);
        assert.ok(Math.abs(samples.length - rate) < 3, String(samples.length));
        assert.ok(Math.abs(rms(samples) - 0.5 / Math.SQRT2) < 0.01, String(rms(samples)));
      });

  test('six channels are one', async () => {
    const channels = Array.from({ length: 6 }, (_, i) => tone(8000).map((x) => (i === 0 ? x : 0)));
    const { samples } = await decodeSound(writeWav(channels, 8000), 'file');
    assert.ok(Math.abs(rms(samples) - 0.5 / Math.SQRT2 / 6) < 0.005, String(rms(samples)));
  });

  test('FLAC, MP3, Ogg Vorbis and Opus come out as the same sound, whatever they are called', async () => {
    const flac = await decodeSound(sample('beat.flac'), 'song.mp3');
    assert.equal(flac.rate, 44_100);
    assert.ok(Math.abs(flac.samples.length / flac.rate - 4) < 0.01, 'as long');
    for (const name of ['beat.mp3', 'beat.ogg', 'beat.opus']) {
      const other = await decodeSound(sample(name), 'song.wav');
      assert.ok(
        Math.abs(other.samples.length / other.rate - 4) < 0.12,
        `${name}: ${other.samples.length / other.rate} s`,
      );
      assert.ok(Math.abs(rms(other.samples) / rms(flac.samples) - 1) < 0.1, name);
    }
    assert.deepEqual(
      ['beat.flac', 'beat.mp3', 'beat.ogg', 'beat.opus'].map((n) => soundKind(sample(n))),
      ['flac', 'mp3', 'vorbis', 'opus'],
    );
  });

  test('what cannot be heard is said, each in its own words', async () => {
    const text = new TextEncoder().encode('This is no song but a letter about one.');
    const m4a = Uint8Array.from([
      0,
      0,
      0,
      24,
      ...new TextEncoder().encode('ftypM4A '),
      ...new Array<number>(40).fill(0),
    ]);
    const codes = await Promise.all(
      [
        new Uint8Array(0),
        text,
        m4a,
        writeWav([new Float32Array(8000)], 8000),
        writeWav([tone(8000, 0.2)], 8000),
        writeWav([tone(8000)], 8000).subarray(0, 40),
      ].map(codeOf),
    );
    assert.deepEqual(codes, [
      'SOUND_EMPTY',
      'SOUND_UNKNOWN',
      'SOUND_BROWSER',
      'SOUND_SILENT',
      'SOUND_SHORT',
      'SOUND_BROKEN',
    ]);
  });

  test('cut off, turned and garbled files are read or refused, and nothing else happens', async () => {
    const files = ['beat.flac', 'beat.mp3', 'beat.ogg', 'beat.opus'].map(sample);
    files.push(writeWav([tone(8000)], 8000));
    await fc.assert(
      fc.asyncProperty(
        fc.nat(files.length - 1),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.array(fc.tuple(fc.nat(60_000), fc.nat(255)), { maxLength: 12 }),
        async (n, part, changes) => {
          const bytes = files[n]!.slice(0, Math.max(1, Math.floor(files[n]!.length * (part < 0.5 ? 1 : part))));
          for (const [at, value] of changes) bytes[at % bytes.length] = value;
          assert.match(await codeOf(bytes), /^(read|SOUND_[A-Z]+)$/);
        },
      ),
      { numRuns: 60 },
    );
  });
});

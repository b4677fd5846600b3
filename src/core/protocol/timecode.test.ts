import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { LtcReader, ltcSound } from './ltc.ts';
import { MtcReader, quarterFrames } from './mtc.ts';
import {
  codeAt,
  codeSeconds,
  CODE_RATES,
  codeText,
  frameS,
  framesIn,
  isCode,
  readCode,
  type TimeCode,
} from './timecode.ts';

const code = (text: string, rate: TimeCode['rate'] = '25'): TimeCode => codeAt(readCode(text, rate)! + 1e-6, rate);

describe('time code', () => {
  test('seconds and codes are inverse, at every rate', () => {
    const random = seeded(1);
    for (const rate of CODE_RATES)
      for (let i = 0; i < 500; i++) {
        const at = random() * 86_000;
        const one = codeAt(at, rate);
        assert.ok(isCode(one), codeText(one));
        const back = codeSeconds(one);
        assert.ok(back <= at + 1e-4 && at - back < frameS(rate) + 1e-4, `${at} ${codeText(one)} ${back}`);
      }
  });
  test('numbers that drop-frame leaves out are left out, and an hour is an hour', () => {
    assert.equal(
      codeText(codeAt(codeSeconds(code('00:00:59;29', '29.97 drop')) + frameS('29.97 drop') * 1.01, '29.97 drop')),
      '00:01:00;02',
    );
    assert.equal(
      codeText(codeAt(codeSeconds(code('00:09:59;29', '29.97 drop')) + frameS('29.97 drop') * 1.01, '29.97 drop')),
      '00:10:00;00',
    );
    assert.ok(Math.abs(readCode('01:00:00;00', '29.97 drop')! - 3600) < 0.01);
    assert.equal(readCode('00:01:00;00', '29.97 drop'), null);
  });
  test('what people type', () => {
    assert.equal(readCode('01:00:02:05', '25'), 3602.2);
    assert.equal(readCode('1:00:02', '25'), 3602);
    assert.equal(readCode('1:00:02.5', '25'), 3602.5);
    for (const bad of ['', 'x', '25:00:00:00', '00:61:00:00', '00:00:00:25', '-1:00:00'])
      assert.equal(readCode(bad, '25'), null, bad);
  });
});

describe('time code over MIDI', () => {
  test('eight quarter frames tell a code, of the moment the last of them comes', () => {
    for (const rate of CODE_RATES) {
      const reader = new MtcReader();
      const messages = quarterFrames(1, 2, 3, 4, rate);
      const heard = messages.map((message) => reader.take(message));
      assert.ok(heard.slice(0, 7).every((one) => one === null));
      const want = codeSeconds({ hours: 1, minutes: 2, seconds: 3, frames: 4, rate }) + 1.75 * frameS(rate);
      assert.deepEqual([heard[7]!.rate, heard[7]!.way], [rate, 1]);
      assert.ok(Math.abs(heard[7]!.at - want) < 1e-9);
    }
  });
  test('backwards it is told too; a piece that is missing begins anew; a full frame is a place', () => {
    const reader = new MtcReader();
    const back = [...quarterFrames(1, 2, 3, 4, '25')].reverse();
    const more = [...quarterFrames(1, 2, 3, 2, '25')].reverse();
    const heard = [...back, ...more].map((message) => reader.take(message)).filter((one) => one !== null);
    assert.ok(heard.length >= 1 && heard.every(({ way }) => way === -1));
    const broken = new MtcReader();
    const first = quarterFrames(1, 2, 3, 4, '25');
    assert.deepEqual(
      first
        .filter((_, i) => i !== 3)
        .map((m) => broken.take(m))
        .filter(Boolean),
      [],
    );
    assert.equal(
      broken.take([0xf0, 0x7f, 0x7f, 1, 1, (1 << 5) | 10, 20, 30, 12, 0xf7])!.at,
      10 * 3600 + 20 * 60 + 30 + 12 / 25,
    );
    assert.equal(broken.take([0xf0, 0x7f, 0x7f, 1, 1, 0x3f, 99, 99, 99, 0xf7]), null, 'no such code');
    assert.equal(broken.take([0x90, 60, 100]), null);
    assert.equal(broken.take([]), null);
  });
});

describe('time code in sound', () => {
  const read = (sound: Float32Array, rate = 48_000, block = 1024) => {
    const reader = new LtcReader(rate);
    const found = [];
    for (let i = 0; i < sound.length; i += block) found.push(...reader.take(sound.subarray(i, i + block)));
    return found;
  };
  test('every frame but the first is heard, with the code of its end, at every rate', () => {
    for (const rate of CODE_RATES) {
      const from = code(rate === '29.97 drop' ? '00:00:58;00' : '00:00:58:00', rate);
      const heard = read(ltcSound(from, 4 * framesIn(rate), 48_000));
      assert.ok(heard.length > 2 * framesIn(rate), `${rate}: ${heard.length}`);
      const settled = heard.filter((one) => one.rate === rate);
      assert.ok(settled.length > framesIn(rate), rate);
      for (const { at, sample } of settled)
        assert.ok(Math.abs(at - (codeSeconds(from) + sample / 48_000)) < 0.002, `${rate} ${at} ${sample}`);
    }
  });
  test('quiet, turned round, with noise, at other speeds and sample rates, and backwards', () => {
    const random = seeded(5);
    const sound = ltcSound(code('10:11:12:13'), 50, 48_000);
    for (const [what, other] of [
      ['quiet', sound.map((x) => x * 0.02)],
      ['turned round', sound.map((x) => -x)],
      ['noisy', sound.map((x) => x + (random() - 0.5) * 0.1)],
    ] as const)
      assert.ok(read(other).length > 40, what);
    assert.ok(read(ltcSound(code('10:11:12:13'), 50, 44_100), 44_100).length > 40);
    // Played at half speed and at twice: the same samples for another clock.
    assert.ok(read(sound, 96_000).length > 30, 'twice as fast');
    assert.ok(read(sound, 24_000).length > 30, 'half as fast');
    const back = read(sound.slice().reverse());
    assert.ok(back.length > 40 && back.every(({ way }) => way === -1));
    assert.ok(back[0]!.at > back.at(-1)!.at);
  });
  test('noise, silence, tones and speech-like sound tell nothing', () => {
    const random = seeded(9);
    for (const sound of [
      Float32Array.from({ length: 96_000 }, () => random() * 2 - 1),
      new Float32Array(96_000),
      Float32Array.from({ length: 96_000 }, (_, i) => Math.sin(i / 7)),
      Float32Array.from({ length: 96_000 }, (_, i) => (Math.sin(i / 20) * Math.sin(i / 5000) + random() - 0.5) * 0.5),
    ])
      assert.deepEqual(read(sound), []);
  });
  test('it begins in the middle and goes on after a hole', () => {
    const sound = ltcSound(code('01:00:00:00'), 100, 48_000).slice(777);
    sound.fill(0, 60_000, 90_000);
    const heard = read(sound);
    assert.ok(heard.some(({ sample }) => sample < 60_000) && heard.some(({ sample }) => sample > 95_000));
    for (const { at, sample } of heard) assert.ok(Math.abs(at - (3600 + (sample + 777) / 48_000)) < 0.002);
  });
});

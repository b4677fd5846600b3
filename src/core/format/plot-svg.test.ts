import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { XMLValidator } from 'fast-xml-parser';
import { standinAddresses } from '../../addresses.ts';
import { applyChange, documentOf, recordsOf } from '../document/change.ts';
import { builtInProfiles } from '../profile/library.ts';
import { PLOT_SIDES } from '../records/picture.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { plotSvg, scaleFor, SCALES, PAPER_SIZES, type PlotPrint } from './plot-svg.ts';
import { imageSize } from './image-size.ts';
import { drawPng } from '../../db/seed/png.ts';

const show = documentOf(copperlineRink(builtInProfiles(), standinAddresses('/tests')));
const print: PlotPrint = {
  side: 'plan',
  sheet: 'A4',
  scale: 100,
  labels: ['number', 'address'],
  pictures: new Map(),
  areas: true,
  date: '2026-01-02',
};

describe('the plot on paper', () => {
  test('is sound XML from every side on every sheet, and has every unit', () => {
    for (const side of PLOT_SIDES)
      for (const sheet of Object.keys(PAPER_SIZES) as (keyof typeof PAPER_SIZES)[]) {
        const svg = plotSvg(show, { ...print, side, sheet, scale: null });
        assert.equal(XMLValidator.validate(svg), true);
        for (const unit of recordsOf(show, 'unit')) assert.ok(svg.includes(`id="${unit.id}"`), unit.name);
        for (const thing of recordsOf(show, 'thing')) assert.ok(svg.includes(`<title>${thing.name}<`), thing.name);
      }
  });
  test('is to scale: a metre at 1 : 100 is ten millimetres', () => {
    const svg = plotSvg(show, print);
    const room = /<rect x="([\d.-]+)" y="[\d.-]+" width="([\d.]+)" height="([\d.]+)" class="room"/.exec(svg)!;
    assert.deepEqual([Number(room[2]), Number(room[3])], [240, 140]);
    assert.match(svg, /Scale 1 : 100/);
    assert.match(svg, /4 x Quillon Heron/);
    assert.match(svg, />7 {2}1\.81</);
  });
  test('the scale that fits does fit, and the next larger one would not', () => {
    const scale = scaleFor(show, 'plan', 'A4');
    assert.ok((SCALES as readonly number[]).includes(scale));
    assert.ok((24 * 1000) / scale <= 297);
    const larger = SCALES[SCALES.indexOf(scale as 100) - 1]!;
    assert.ok((24 * 1000) / larger > 297 - 16 - 62);
  });
  test('names from anywhere are text and nothing else', () => {
    const unit = { ...recordsOf(show, 'unit')[0]!, name: '</text><script>alert(1)</script>&"' };
    const svg = plotSvg(applyChange(show, { put: [unit], remove: [] }), { ...print, labels: ['name'] });
    assert.ok(!svg.includes('<script'));
    assert.equal(XMLValidator.validate(svg), true);
  });
});

describe('the size of a picture before it is decoded', () => {
  test('PNG, JPEG, WebP', () => {
    assert.deepEqual(imageSize(drawPng(30, 20, () => [0, 0, 0])), { width: 30, height: 20 });
    const jpeg = Uint8Array.of(
      0xff,
      0xd8,
      0xff,
      0xe0,
      0,
      4,
      0,
      0,
      0xff,
      0xc2,
      0,
      11,
      8,
      0x01,
      0x2c,
      0x02,
      0x58,
      1,
      1,
      0x11,
      0,
    );
    assert.deepEqual(imageSize(jpeg), { width: 600, height: 300 });
    const webp = new Uint8Array(30);
    webp.set(new TextEncoder().encode('RIFF....WEBPVP8X'));
    webp.set([0x57, 0x02, 0, 0x2b, 0x01, 0], 24);
    assert.deepEqual(imageSize(webp), { width: 600, height: 300 });
  });
  test('broken or no picture at all is nothing', () => {
    for (const bytes of [[], [0xff, 0xd8], [0xff, 0xd8, 0xff, 0xe0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 8], [1, 2, 3]])
      assert.equal(imageSize(Uint8Array.from(bytes)), null);
    assert.equal(imageSize(drawPng(30, 20, () => [0, 0, 0]).subarray(0, 20)), null);
  });
});

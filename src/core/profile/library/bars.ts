import {
  AMBER,
  BLUE,
  cells,
  define,
  does,
  GREEN,
  level,
  mode,
  programs,
  ranges,
  rate,
  RED,
  strobe,
  turning,
  UV,
  WHITE,
  type ProfileRow,
} from './build.ts';

/** Bars of one to many cells, bars made of several fixtures, and what a pixel controller makes of its outputs. */
const bar = (row: Omit<ProfileRow, 'fixtureKind'>) => define({ fixtureKind: 'bar', ...row });
const RGB = 'emitR emitG emitB';
const RGBW = 'emitR emitG emitB emitW';
const show = programs('program', 'Bar program', 'Effects1', ['Chase', 'Meet in the middle', 'Rainbow', 'Sparkle']);
const showRate = rate('programrate', 'Program speed', 'Effects1Rate', 4);

const stave = (count: number, powerW: number, widthMm: number) =>
  bar({
    slug: `quillon-stave${count}`,
    maker: 'Quillon',
    model: `Stave ${count}`,
    channels: [level(), RED, GREEN, BLUE, strobe(30), show, showRate],
    modes: [
      mode('3ch', '3 channel', RGB),
      mode(`${count * 3}ch`, `${count} cells`, cells(count, RGB)),
      mode(`${count * 3 + 2}ch`, `${count} cells, level, strobe`, 'dimmer strobe', cells(count, RGB)),
      mode(`${count * 3 + 4}ch`, `${count} cells and programs`, 'dimmer strobe program programrate', cells(count, RGB)),
    ],
    physical: { powerW, beamDeg: 30, widthMm, depthMm: 70, massKg: 1 + count * 0.12 },
  });

const reedW = (count: number, powerW: number) =>
  bar({
    slug: `fernlight-hedgerow${count}`,
    maker: 'Fernlight',
    model: `Hedgerow ${count} RGBW`,
    channels: [level(), RED, GREEN, BLUE, WHITE, strobe(25)],
    modes: [
      mode('4ch', '4 channel', RGBW),
      mode('6ch', '6 channel', 'dimmer strobe', RGBW),
      mode(`${count * 4}ch`, `${count} cells`, cells(count, RGBW)),
      mode(`${count * 4 + 2}ch`, `${count} cells, level, strobe`, 'dimmer strobe', cells(count, RGBW)),
    ],
    physical: { powerW, beamDeg: 22, widthMm: 1000, depthMm: 90, massKg: 3 + count * 0.1 },
  });

/** Pixels one after the other: all that differs is in which lengths they come. */
const pixels = (
  slug: string,
  model: string,
  order: string,
  modes: ReturnType<typeof mode>[],
  physical: { powerW: number; widthMm: number },
) =>
  define({
    slug,
    maker: 'Generic',
    model,
    fixtureKind: 'strip',
    channels: order.includes('emitW') ? [RED, GREEN, BLUE, WHITE] : [RED, GREEN, BLUE],
    modes,
    physical: { ...physical, depthMm: 12 },
    flow: true,
  });

const strip = (slug: string, model: string, order: string, counts: readonly number[]) =>
  pixels(
    slug,
    model,
    order,
    counts.map((n) => mode(`${n}px`, `${n} pixels`, cells(n, order))),
    { powerW: 0.3 * Math.max(...counts), widthMm: 5000 },
  );

/** As many pixels as the shape of each unit has: one here stands for all. */
const prop = (slug: string, model: string, order: string) =>
  pixels(slug, model, order, [mode('px', 'As many pixels as its shape has', cells(1, order))], {
    powerW: 0.3,
    widthMm: 1000,
  });

const matrix = (slug: string, model: string, sizes: readonly (readonly [number, number])[]) =>
  define({
    slug,
    maker: 'Generic',
    model,
    fixtureKind: 'matrix',
    channels: [RED, GREEN, BLUE],
    modes: sizes.map(([w, h]) => mode(`${w}x${h}`, `${w} x ${h}`, cells(w * h, RGB))),
    physical: { powerW: 200, widthMm: 1000, depthMm: 30 },
    flow: true,
  });

const derbyTurn = turning('turn', 'Derby turning', 'Effects1PosRotate', 24);
const flash = {
  key: 'flash',
  name: 'Strobe row',
  attribute: 'Effects2',
  snap: true,
  ranges: ranges(
    [0, 9, 'Off'],
    [10, 99, 'Flash slow to fast', does(1, 18, 'hz')],
    [100, 179, 'Flash at random', does(1, 18, 'hz')],
    [180, 255, 'Steady'],
  ),
};

export const BAR_PROFILES = [
  stave(4, 28, 500),
  stave(8, 54, 1000),
  stave(32, 140, 1000),
  reedW(8, 90),
  reedW(16, 130),
  bar({
    slug: 'fernlight-hedgerow-1',
    maker: 'Fernlight',
    model: 'Hedgerow Wash',
    channels: [level(), RED, GREEN, BLUE, AMBER, strobe(20)],
    modes: [
      mode('4ch', 'Colour', `${RGB} emitRY`),
      mode('6ch', 'Level, strobe, colour', 'dimmer strobe', `${RGB} emitRY`),
    ],
    physical: { powerW: 80, beamDeg: 35, widthMm: 1000, depthMm: 90, massKg: 3.4 },
    dipSwitches: true,
  }),
  bar({
    slug: 'marrow-uv-bar',
    maker: 'Marrow & Tine',
    model: 'Nightflower Bar',
    channels: [level('dimmer', 'Ultraviolet level'), strobe(20)],
    modes: [
      mode('1ch', '1 channel', 'dimmer'),
      mode('2ch', '2 channel', 'dimmer strobe'),
      mode('4ch', '4 sections', cells(4, 'dimmer')),
    ],
    physical: { powerW: 54, beamDeg: 70, widthMm: 1000, depthMm: 80, massKg: 2 },
    dipSwitches: true,
  }),
  bar({
    slug: 'tansy-blindbar',
    maker: 'Tansy Works',
    model: 'Furrow Blinder 5',
    channels: [level()],
    modes: [mode('1ch', 'All', 'dimmer'), mode('5ch', '5 lamps', cells(5, 'dimmer'))],
    physical: { powerW: 375, beamDeg: 55, widthMm: 1100, depthMm: 160, massKg: 6 },
  }),
  bar({
    slug: 'fernlight-row4',
    maker: 'Fernlight',
    model: 'Row of Four',
    channels: [level(), RED, GREEN, BLUE, strobe(15), show, showRate],
    modes: [
      mode('3ch', 'All alike', RGB),
      mode('5ch', 'All alike, level, strobe', 'dimmer strobe', RGB),
      mode('12ch', '4 pars', cells(4, RGB)),
      mode('15ch', '4 pars and programs', 'dimmer', cells(4, RGB), 'program programrate'),
    ],
    physical: { powerW: 100, beamDeg: 25, widthMm: 1060, depthMm: 150, massKg: 5.2 },
    dipSwitches: true,
  }),
  bar({
    slug: 'marrow-carousel',
    maker: 'Marrow & Tine',
    model: 'Carousel Bar',
    notes: 'Two pars, a derby and a row of white strobes on one stand.',
    channels: [level(), RED, GREEN, BLUE, UV, derbyTurn, flash, strobe(15), show, showRate],
    modes: [
      mode('2ch', 'Programs only', 'program programrate'),
      mode('6ch', 'All together', 'dimmer', RGB, 'turn flash'),
      mode('9ch', 'Pars apart', cells(2, RGB), 'dimmer turn flash'),
      mode('13ch', 'Everything', 'dimmer strobe', cells(2, `${RGB} emitUV`), 'turn flash program'),
    ],
    physical: { powerW: 120, beamDeg: 30, widthMm: 1150, depthMm: 260, massKg: 8.4 },
    dipSwitches: true,
  }),
  bar({
    slug: 'marrow-carousel-laser',
    maker: 'Marrow & Tine',
    model: 'Carousel Bar L',
    notes: 'Two pars, two derbies, strobes and a small laser on one stand.',
    channels: [
      level(),
      RED,
      GREEN,
      BLUE,
      derbyTurn,
      turning('turn2', 'Second derby turning', 'Effects3PosRotate', 24),
      flash,
      {
        key: 'laser',
        name: 'Laser',
        attribute: 'Effects4',
        snap: true,
        ranges: ranges([0, 9, 'Off'], [10, 99, 'Red'], [100, 179, 'Green'], [180, 255, 'Red and green']),
      },
      turning('laserturn', 'Laser turning', 'Effects4PosRotate', 20),
      show,
      showRate,
    ],
    modes: [
      mode('3ch', 'Programs only', 'program programrate dimmer'),
      mode('9ch', 'All together', 'dimmer', RGB, 'turn turn2 flash laser laserturn'),
      mode('14ch', 'Everything', 'dimmer', cells(2, RGB), 'turn turn2 flash laser laserturn program programrate'),
    ],
    physical: { powerW: 140, beamDeg: 30, widthMm: 1250, depthMm: 280, massKg: 10.2 },
    dipSwitches: true,
  }),
  strip('generic-pixels-rgb', 'Pixel strip RGB', RGB, [50, 100, 150, 170, 340, 680]),
  strip('generic-pixels-grb', 'Pixel strip GRB', 'emitG emitR emitB', [50, 100, 170, 340, 680]),
  prop('generic-prop-rgb', 'Pixel prop RGB', RGB),
  prop('generic-prop-rgbw', 'Pixel prop RGBW', RGBW),
  strip('generic-pixels-rgbw', 'Pixel strip RGBW', RGBW, [30, 60, 128, 144, 288]),
  matrix('generic-matrix', 'Pixel matrix RGB', [
    [8, 8],
    [16, 16],
    [32, 8],
    [40, 25],
    [64, 32],
  ]),
  define({
    slug: 'quillon-panel5',
    maker: 'Quillon',
    model: 'Patchwork Panel 5 x 5',
    fixtureKind: 'matrix',
    channels: [level(), RED, GREEN, BLUE, { ...WHITE, name: 'White lamp' }, strobe(20), show, showRate],
    modes: [
      mode('5ch', 'One colour', 'dimmer strobe', RGB),
      mode('25ch', '25 white lamps', cells(25, 'emitW')),
      mode('75ch', '25 cells', cells(25, RGB)),
      mode('79ch', '25 cells and programs', 'dimmer strobe program programrate', cells(25, RGB)),
    ],
    physical: { powerW: 260, beamDeg: 25, widthMm: 640, depthMm: 120, massKg: 9.5 },
  }),
];

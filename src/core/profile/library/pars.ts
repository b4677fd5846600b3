import {
  AMBER,
  BLUE,
  cells,
  define,
  emitter,
  GREEN,
  level,
  LIME,
  mode,
  programs,
  rate,
  RED,
  strobe,
  UV,
  WHITE,
  type ProfileRow,
} from './build.ts';

/** Pars and other fixtures that stand still and mix a colour, and packs that feed lamps. */
const show = programs('program', 'Colour program', 'ColorMacro1', ['Fixed colours', 'Colour change', 'Colour fade']);
const showRate = rate('programrate', 'Program speed', 'ColorMacro1Rate', 5);
const par = (row: Omit<ProfileRow, 'fixtureKind'>) => define({ fixtureKind: 'par', dipSwitches: true, ...row });
const fine = (row: typeof RED) => ({ ...row, bits: 16 as const });

const pack = (slug: string, model: string, circuits: number, base: 10 | 16, powerW: number, widthMm: number) =>
  define({
    slug,
    maker: 'Low Harbour Electric',
    model,
    fixtureKind: 'dimmer',
    channels: [
      level(),
      {
        key: 'preheat',
        name: 'Preheat',
        attribute: 'DimmerMode',
        snap: true,
        ranges: [
          { from: 0, to: 127, name: 'Off' },
          { from: 128, to: 255, name: 'Lamps kept warm' },
        ],
      },
    ],
    modes: [
      mode(`${circuits}ch`, `${circuits} ${circuits === 1 ? 'circuit' : 'circuits'}`, cells(circuits, 'dimmer')),
      mode(`${circuits + 1}ch`, 'With preheat', cells(circuits, 'dimmer'), 'preheat'),
    ],
    physical: { powerW, widthMm, depthMm: 260, massKg: 2 + circuits * 0.7 },
    dipSwitches: true,
    unitNumber: { circuits, base },
  });

export const PAR_PROFILES = [
  pack('low-harbour-pack1', 'Quayside Single', 1, 10, 2300, 120),
  pack('low-harbour-pack6', 'Quayside Pack 6', 6, 10, 13800, 482),
  pack('low-harbour-pack12', 'Quayside Pack 12', 12, 10, 27600, 482),
  pack('low-harbour-rack24', 'Tideline Rack 24', 24, 10, 55200, 482),
  par({
    slug: 'fernlight-plumlet-mini',
    maker: 'Fernlight',
    model: 'Plumlet Mini',
    channels: [RED, GREEN, BLUE, level(), strobe(15)],
    modes: [mode('3ch', '3 channel', 'emitR emitG emitB'), mode('5ch', '5 channel', 'dimmer emitR emitG emitB strobe')],
    physical: { powerW: 12, beamDeg: 30, massKg: 0.7, widthMm: 130, depthMm: 130 },
  }),
  par({
    slug: 'fernlight-plumlet-xl',
    maker: 'Fernlight',
    model: 'Plumlet XL',
    channels: [level(), RED, GREEN, BLUE, strobe(20), show, showRate],
    modes: [
      mode('3ch', '3 channel', 'emitR emitG emitB'),
      mode('4ch', '4 channel', 'dimmer emitR emitG emitB'),
      mode('7ch', '7 channel', 'emitR emitG emitB dimmer strobe program programrate'),
    ],
    physical: { powerW: 110, beamDeg: 40, fieldDeg: 60, massKg: 3.6, widthMm: 300, depthMm: 280 },
  }),
  par({
    slug: 'fernlight-bramble-q4',
    maker: 'Fernlight',
    model: 'Bramble Q4',
    channels: [level(), RED, GREEN, BLUE, WHITE, strobe(25), show, showRate],
    modes: [
      mode('4ch', '4 channel', 'emitR emitG emitB emitW'),
      mode('8ch', '8 channel', 'emitR emitG emitB emitW dimmer strobe program programrate'),
    ],
    physical: { powerW: 45, beamDeg: 25, massKg: 1.9, widthMm: 210, depthMm: 200 },
  }),
  par({
    slug: 'quillon-pebble-rgbw',
    maker: 'Quillon',
    model: 'Pebble 12 RGBW',
    channels: [level(), RED, GREEN, BLUE, WHITE, strobe(20)],
    modes: [
      mode('4ch', 'Colour', 'emitR emitG emitB emitW'),
      mode('6ch', 'Colour, level, strobe', 'dimmer strobe emitR emitG emitB emitW'),
    ],
    physical: { powerW: 96, beamDeg: 15, massKg: 3, widthMm: 240, depthMm: 230 },
  }),
  par({
    slug: 'quillon-pebble-fine',
    maker: 'Quillon',
    model: 'Pebble 18 Fine',
    channels: [level('dimmer', 'Level', 16), fine(RED), fine(GREEN), fine(BLUE), fine(WHITE), strobe(25)],
    modes: [
      mode('5ch', '8 bit', 'dimmer emitR emitG emitB emitW'),
      mode('10ch', '16 bit', 'dimmer+ emitR+ emitG+ emitB+ emitW+'),
      mode('11ch', '16 bit and strobe', 'dimmer+ strobe emitR+ emitG+ emitB+ emitW+'),
    ],
    physical: { powerW: 180, beamDeg: 12, fieldDeg: 20, massKg: 5.5, widthMm: 320, depthMm: 290 },
    dipSwitches: false,
  }),
  par({
    slug: 'tansy-sixfold7',
    maker: 'Tansy Works',
    model: 'Sixfold 7',
    channels: [level(), RED, GREEN, BLUE, WHITE, AMBER, UV, strobe(25), show, showRate],
    modes: [
      mode('6ch', '6 channel', 'emitR emitG emitB emitW emitRY emitUV'),
      mode('10ch', '10 channel', 'dimmer emitR emitG emitB emitW emitRY emitUV strobe program programrate'),
    ],
    physical: { powerW: 84, beamDeg: 25, massKg: 2.6, widthMm: 250, depthMm: 230 },
  }),
  par({
    slug: 'tansy-quartet',
    maker: 'Tansy Works',
    model: 'Quartet RGBA',
    channels: [level(), RED, GREEN, BLUE, AMBER, strobe(20)],
    modes: [
      mode('4ch', '4 channel', 'emitR emitG emitB emitRY'),
      mode('6ch', '6 channel', 'dimmer strobe emitR emitG emitB emitRY'),
    ],
    physical: { powerW: 54, beamDeg: 30, massKg: 2.1, widthMm: 220, depthMm: 200 },
  }),
  par({
    slug: 'tansy-limestone',
    maker: 'Tansy Works',
    model: 'Limestone RGBL',
    channels: [level('dimmer', 'Level', 16), RED, GREEN, BLUE, LIME, strobe(25)],
    modes: [
      mode('4ch', 'Colour', 'emitR emitG emitB emitGY'),
      mode('7ch', 'Full', 'dimmer+ strobe emitR emitG emitB emitGY'),
    ],
    physical: { powerW: 150, beamDeg: 19, massKg: 4.8, widthMm: 290, depthMm: 280 },
  }),
  par({
    slug: 'tansy-pair-white-200',
    maker: 'Tansy Works',
    model: 'Pair White 200',
    channels: [
      level('dimmer', 'Level', 16),
      { ...emitter('WW', 'Warm white'), home: 255 },
      { ...emitter('CW', 'Cool white'), home: 255 },
      strobe(20),
    ],
    modes: [
      mode('2ch', 'Two whites', 'emitWW emitCW'),
      mode('3ch', 'Level and whites', 'dimmer emitWW emitCW'),
      mode('5ch', 'Fine level and strobe', 'dimmer+ strobe emitWW emitCW'),
    ],
    physical: { powerW: 210, beamDeg: 50, massKg: 5, widthMm: 300, depthMm: 260 },
  }),
  par({
    slug: 'marrow-flatpar',
    maker: 'Marrow & Tine',
    model: 'Tine Flat 7',
    channels: [level(), RED, GREEN, BLUE, strobe(18), show],
    modes: [
      mode('3ch', '3 channel', 'emitR emitG emitB'),
      mode('6ch', '6 channel', 'dimmer emitR emitG emitB strobe program'),
    ],
    physical: { powerW: 28, beamDeg: 40, massKg: 1.1, widthMm: 200, depthMm: 110 },
  }),
  par({
    slug: 'generic-rgb',
    maker: 'Generic',
    model: 'RGB',
    channels: [RED, GREEN, BLUE, level()],
    modes: [mode('3ch', 'RGB', 'emitR emitG emitB'), mode('4ch', 'Level, RGB', 'dimmer emitR emitG emitB')],
    physical: { powerW: 30, beamDeg: 40, widthMm: 200, depthMm: 200 },
    dipSwitches: false,
  }),
  define({
    slug: 'generic-rgb-circuits',
    maker: 'Generic',
    model: 'RGB circuits',
    fixtureKind: 'dimmer',
    notes: 'A controller whose circuits are lamps or strings of one colour at a time: three slots each.',
    channels: [RED, GREEN, BLUE],
    modes: [1, 4, 8, 9, 12, 16, 20, 24].map((n) =>
      mode(`${3 * n}ch`, n === 1 ? '1 RGB circuit' : `${n} RGB circuits`, cells(n, 'emitR emitG emitB')),
    ),
    physical: { powerW: 100, widthMm: 300, depthMm: 200 },
  }),
  par({
    slug: 'generic-rgbw',
    maker: 'Generic',
    model: 'RGBW',
    channels: [RED, GREEN, BLUE, WHITE, level()],
    modes: [
      mode('4ch', 'RGBW', 'emitR emitG emitB emitW'),
      mode('5ch', 'Level, RGBW', 'dimmer emitR emitG emitB emitW'),
    ],
    physical: { powerW: 40, beamDeg: 40, widthMm: 200, depthMm: 200 },
    dipSwitches: false,
  }),
  define({
    slug: 'generic-dimmer-16bit',
    maker: 'Generic',
    model: 'Dimmer 16 bit',
    fixtureKind: 'dimmer',
    channels: [level('dimmer', 'Level', 16)],
    modes: [mode('2ch', '16 bit', 'dimmer+')],
    physical: { powerW: 500, beamDeg: 40, widthMm: 200, depthMm: 200 },
  }),
  define({
    slug: 'low-harbour-hutlamp-white',
    maker: 'Low Harbour Electric',
    model: 'Hut Lamp White',
    fixtureKind: 'lamp',
    channels: [
      level(),
      {
        key: 'temperature',
        name: 'Colour temperature',
        attribute: 'CTC',
        home: 128,
        ranges: [{ from: 0, to: 255, name: 'Warm to cool', physical: { from: 2200, to: 6500, unit: 'kelvin' } }],
      },
    ],
    modes: [mode('2ch', 'Level and temperature', 'dimmer temperature')],
    physical: { powerW: 8, beamDeg: 160, widthMm: 60, depthMm: 60 },
  }),
  define({
    slug: 'low-harbour-hutlamp-rgbw',
    maker: 'Low Harbour Electric',
    model: 'Hut Lamp Full',
    fixtureKind: 'lamp',
    channels: [level(), RED, GREEN, BLUE, emitter('WW', 'Warm white')],
    modes: [
      mode('4ch', 'Colour', 'emitR emitG emitB emitWW'),
      mode('5ch', 'Level and colour', 'dimmer emitR emitG emitB emitWW'),
    ],
    physical: { powerW: 11, beamDeg: 160, widthMm: 65, depthMm: 65 },
  }),
];

import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { applyChange } from '../document/change.ts';
import { removalOf } from '../rules/removal.ts';
import { preflight } from '../check/preflight.ts';
import { make, type LineRecord } from '../records/index.ts';
import { showWith, units } from '../../../tests/support/rig.ts';
import { lineFaults, packingList, pixelPort, resolveLine } from './index.ts';
import { lampColour, lampSlotsOf } from './devices/lamp.ts';
import { stringRecords } from './devices/mapped-string.ts';
import type { MappedString } from '../protocol/network.ts';
import { cableLengthFor } from './cables/packing.ts';
import { pixelFrameRate } from './cables/pixels.ts';
import { connectorIn } from './cables/run.ts';
import { packPlaces, unpackPlaces } from '../plot/places.ts';
import { patchOf } from '../patch/of-document.ts';
import { documentOf } from '../document/change.ts';
import { bodyOf } from '../plot/body.ts';

const slugs = (count: number): string[] => Array.from({ length: count }, (_, i) => `u${i + 1}`);
const id = (slug: string) => `unit:${slug}` as const;
const dimmers = (count: number) =>
  units(...slugs(count).map((slug, i) => ({ slug, profile: 'generic-dimmer', mode: '1ch', address: i + 1 })));
const output = make('output', { id: 'output:o', name: 'Gate', protocol: 'artnet', destinations: ['10.0.0.2'] });
type Given = Partial<Omit<LineRecord, 'cables'>> & { cables?: Record<string, object> };
const withLine = (count: number, given: Given = {}) => {
  const line = make('line', {
    id: 'line:l',
    number: 1,
    name: 'Run',
    outputId: 'output:o',
    terminated: true,
    unitIds: slugs(count).map(id),
    ...(given as object),
  });
  return { line, document: showWith(output, ...dimmers(count), line) };
};
const codes = (count: number, given: Given = {}): string[] =>
  lineFaults(withLine(count, given).document).map((f) => f.code);

describe('a run of cable', () => {
  test('goes from the port through its units in order, and adds up', () => {
    const { line, document } = withLine(3, {
      cables: { 'unit:u1': { lengthM: 10 }, 'unit:u2': { lengthM: 2.5 }, 'unit:u3': {} },
    });
    const { drops, runs } = resolveLine(document, line);
    assert.deepEqual(
      drops.map((d) => [d.unit.id, d.from, d.lengthM, d.fromConnector, d.connector]),
      [
        ['unit:u1', null, 10, 'xlr5', 'xlr3'],
        ['unit:u2', 'unit:u1', 2.5, 'xlr3', 'xlr3'],
        ['unit:u3', 'unit:u2', null, 'xlr3', 'xlr3'],
      ],
    );
    assert.deepEqual(runs, [
      { units: ['unit:u1', 'unit:u2', 'unit:u3'], lengthM: 12.5, unmeasured: 1, ends: ['unit:u3'], forks: [] },
    ]);
  });
  test('32 units are well, 33 are too many, a splitter helps', () => {
    assert.deepEqual(codes(32), []);
    assert.deepEqual(codes(33), ['LOADS']);
    assert.deepEqual(codes(33, { cables: { 'unit:u20': { splitter: true } } }), []);
  });
  test('300 m are well, more is too long, and a splitter begins anew', () => {
    const long = (m: number, splitter = false) => ({
      cables: { 'unit:u1': { lengthM: m }, 'unit:u2': { lengthM: 150, splitter } },
    });
    assert.deepEqual(codes(2, long(150)), []);
    assert.deepEqual(codes(2, long(151)), ['LENGTH']);
    assert.deepEqual(codes(2, long(151, true)), []);
  });
  test('a fork without a splitter is a Y, with one it is none', () => {
    const fork = (splitter: boolean) => ({ cables: { 'unit:u3': { from: 'unit:u1', splitter } } });
    assert.deepEqual(codes(3, fork(false)), ['FORK']);
    assert.deepEqual(codes(3, fork(true)), []);
  });
  test('without a terminator the ends are named', () => {
    const [fault] = lineFaults(withLine(3, { terminated: false }).document);
    assert.equal(fault?.code, 'NO_TERMINATOR');
    assert.match(fault!.message, /3 Unit u3/);
    assert.equal(fault!.severe, false);
  });
  test('RJ45 with other pins needs a crossed adapter, other sockets a plain one', () => {
    assert.deepEqual(codes(1, { connector: 'rj45', cables: { 'unit:u1': { connector: 'rj45-45' } } }), ['CROSSED']);
    assert.deepEqual(codes(1, { connector: 'rj45', cables: { 'unit:u1': { connector: 'rj45' } } }), []);
    assert.deepEqual(codes(1, { connector: 'rj45' }), []);
  });
  test('without an output it says so; mains circuits carry no data', () => {
    assert.deepEqual(codes(1, { outputId: null }), ['NO_PORT']);
    assert.deepEqual(codes(40, { medium: 'mains', terminated: false }), []);
  });
  test('is part of pre-flight with its name', () => {
    const found = preflight(withLine(33).document).find((f) => f.code === 'LINE_SEVERE');
    assert.deepEqual([found?.title, found?.step, found?.severe], ['Line 1 Run', 'lines', true]);
  });
  test('sockets are read out of what profiles say', () => {
    assert.deepEqual(
      ['5-pin XLR in and out', 'XLR 3-pin', 'RJ45', 'screw terminals', 'IEC', undefined].map(connectorIn),
      ['xlr5', 'xlr3', 'rj45', 'screw', null, null],
    );
  });
  test('a unit that is removed takes its cable with it, and what hung on it hangs on the one before', () => {
    const { document } = withLine(3, {
      cables: { 'unit:u2': { lengthM: 3 }, 'unit:u3': { from: 'unit:u2', lengthM: 4 } },
    });
    const after = applyChange(document, removalOf(document, ['unit:u2']));
    const line = after.get('line:l') as LineRecord;
    assert.deepEqual(line.unitIds, ['unit:u1', 'unit:u3']);
    assert.deepEqual(Object.keys(line.cables), ['unit:u3']);
    assert.equal(line.cables['unit:u3']!.from, null);
  });
});

describe('a pixel port', () => {
  const strips = (count: number, px: number, given: Given = {}) => {
    const line = make('line', {
      id: 'line:l',
      number: 1,
      name: 'Strip',
      outputId: 'output:o',
      medium: 'pixels',
      unitIds: slugs(count).map(id),
      ...(given as object),
    });
    const rows = slugs(count).map((slug, i) => ({
      slug,
      profile: 'quillon-stave16',
      mode: '50ch',
      universe: i + 1,
      address: 1,
    }));
    assert.equal(px, count * 16);
    return { line, document: showWith(output, ...units(...rows), line) };
  };
  test('of 1,000 RGB pixels reaches 33 frames a second, of RGBW fewer', () => {
    assert.equal(Math.floor(pixelFrameRate(1000, 3)), 33);
    assert.equal(Math.floor(pixelFrameRate(1000, 4)), 24);
    assert.equal(Math.floor(pixelFrameRate(170, 3)), 185);
  });
  test('adds up watts at its limit, and says where power is fed in', () => {
    const { line, document } = strips(10, 160, { pixelWatts: 0.5, volts: 5, injectEvery: 50, levelLimit: 0.5 });
    const port = pixelPort(document, line);
    assert.deepEqual([port.pixels, port.watts, port.amps], [160, 40, 8]);
    assert.deepEqual(
      port.injections.map((i) => [i.unitNumber, i.pixel, i.ofLine]),
      [
        [4, 3, 51],
        [7, 5, 101],
        [10, 7, 151],
      ],
    );
  });
  test('too many pixels for the frame rate or the port are told', () => {
    const found = lineFaults(strips(70, 1120, { pixelLimit: 1000 }).document);
    assert.deepEqual(
      found.map((f) => [f.code, f.severe]),
      [
        ['PIXEL_RATE', false],
        ['PIXEL_LIMIT', true],
      ],
    );
    assert.match(found[0]!.message, /1120 pixels on one port reach 29 frames a second, the show asks for 40/);
  });
});

describe('the packing list', () => {
  test('cables rounded up to what is sold, adapters, terminators, splitters, power', () => {
    assert.deepEqual([0.4, 1, 1.1, 31, 299, 320].map(cableLengthFor), [0.5, 1, 2, 50, 300, 350]);
    const { document } = withLine(3, {
      connector: 'rj45',
      cables: {
        'unit:u1': { lengthM: 9, connector: 'rj45-45' },
        'unit:u2': { lengthM: 4.2, splitter: true },
        'unit:u3': { connector: 'wireless' },
      },
    });
    assert.deepEqual(
      packingList(document).map((i) => [i.group, i.what, i.count]),
      [
        ['Cables', 'RJ45, 10 m', 1],
        ['Cables', 'RJ45, data on 4 and 5, 5 m', 1],
        ['Adapters', 'RJ45 crossed, pins 1 2 to 4 5', 1],
        ['Adapters', 'RJ45, data on 4 and 5 to 3-pin XLR', 1],
        ['Splitters', 'DMX splitter output', 1],
        ['Power', 'mains for 1500 W', 1],
      ],
    );
  });
  test('of one line has only that line', () => assert.deepEqual(packingList(withLine(1).document, 'line:other'), []));
});

describe('smart lamps', () => {
  test('show the colour of their unit under its level; one without colour is white', () => {
    const document = showWith(
      ...units(
        { slug: 'wash', profile: 'fernlight-brambleq', mode: '8ch', address: 1 },
        { slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', universe: 2, address: 9 },
        { slug: 'loose', profile: 'generic-dimmer', mode: '1ch', address: null },
      ),
    );
    const wash = lampSlotsOf(document, 'unit:wash')!;
    const slots = new Uint8Array(512);
    if (wash.level >= 0) slots[wash.level] = 255;
    slots[wash.red] = 255;
    slots[wash.green] = 51;
    assert.deepEqual(lampColour(wash, slots), { red: 1, green: 0.2, blue: 0 });
    const lamp = lampSlotsOf(document, 'unit:lamp')!;
    assert.deepEqual([lamp.universe, lamp.level], [2, 8]);
    slots[8] = 51;
    assert.deepEqual(lampColour(lamp, slots), { red: 0.2, green: 0.2, blue: 0.2 });
    assert.equal(lampSlotsOf(document, 'unit:loose'), null);
  });
  test('a unit that a hub carries does not go nowhere', () => {
    const lamps = [{ lampId: '1', name: 'Door', unitId: 'unit:lamp' as const }];
    const hub = make('output', { id: 'output:h', name: 'Hub', protocol: 'hub', hubAddress: '10.0.0.9:80', lamps });
    const lamp = units({ slug: 'lamp', profile: 'generic-dimmer', mode: '1ch', address: 1 });
    assert.ok(preflight(showWith(...lamp)).some((f) => f.code === 'NO_ROUTE'));
    assert.ok(!preflight(showWith(...lamp, hub)).some((f) => f.code === 'NO_ROUTE'));
  });
});

describe('a string that knows its cells', () => {
  const tree: MappedString = {
    name: 'Tree',
    cells: [
      [0, 0.5, 0],
      [1, 0.5, 0.5],
      [0.5, 1, 1],
    ],
    sizeM: [2, 1, 3],
    strings: [
      { first: 2, count: 1, universe: 9, address: 100 },
      { first: 0, count: 2, universe: 8, address: 4 },
    ],
  };
  let made = 0;
  const context = { newId: (kind: string) => `${kind}:tree${made++}` as never, number: 5, address: '10.0.0.7:80' };
  const records = stringRecords(showWith(), tree, context);
  test('is sent to at once: an output to the device, and a route for each universe', () => {
    const [output] = records.flatMap((r) => (r.kind === 'output' ? [r] : []));
    assert.deepEqual([output?.enabled, output?.protocol, output?.destinations], [true, 'sacn', ['10.0.0.7']]);
    const routes = records.flatMap((r) => (r.kind === 'route' ? [[r.universe, r.wireUniverse]] : []));
    assert.deepEqual(routes, [
      [8, 8],
      [9, 9],
    ]);
  });
  test('where its universes are taken it gets others of ours, and keeps its own on the wire', () => {
    const busy = showWith(...units({ slug: 'd', profile: 'generic-dimmer', mode: '1ch', address: 1, universe: 9 }));
    const others = stringRecords(busy, tree, context);
    const routes = others.flatMap((r) => (r.kind === 'route' ? [[r.universe, r.wireUniverse]] : []));
    assert.deepEqual(routes, [
      [10, 8],
      [11, 9],
    ]);
  });
  test('comes with its shape about its foot, and each string where it listens', () => {
    const unit = records.find((r) => r.kind === 'unit')!;
    assert.ok(unit.kind === 'unit');
    assert.deepEqual(unit.patch, { universe: 8, address: 4 });
    const spans = patchOf(documentOf(records)).get(unit.id)!.spans;
    assert.deepEqual(
      spans.map((s) => [s.universe, s.from, s.to]),
      [
        [8, 4, 9],
        [9, 100, 102],
      ],
    );
    assert.deepEqual([...unpackPlaces(unit.cellPlaces!)], [-1, 0, 0, 1, 0, 1.5, 0, 0.5, 3]);
    const turned = { ...unit, position: { x: 10, y: 0, z: 0 }, rotation: { x: 0, y: 0, z: 90 } };
    const { xyz } = bodyOf('plan', turned, undefined, 3).dots;
    const points = [0, 3, 6].map((i) => [xyz[i]!, xyz[i + 1]!].map((v) => Math.round(v * 1000) / 1000 + 0));
    assert.deepEqual(points, [
      [10, -1],
      [10, 1],
      [9.5, 0],
    ]);
  });
  test('places are kept to the millimetre', () => {
    const packed = packPlaces([[1.2345, -2, 40]]);
    assert.deepEqual(
      [...unpackPlaces(packed)].map((v) => Math.round(v * 1000) / 1000),
      [1.235, -2, 32.767],
    );
  });
});

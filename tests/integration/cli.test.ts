import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import dgram from 'node:dgram';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import { sampleBlobs, WEDGE, wedgeThing } from '../support/sample-records.ts';
import { kite } from '../support/kite.ts';
import { listening } from '../support/network.ts';
import { solutionFor } from '../../src/core/aim/solutions.ts';
import { applyChange, documentOf, recordsOf } from '../../src/core/document/change.ts';
import { roomSetIn } from '../../src/core/edits/rooms.ts';
import { ARCHIVE_VERSION, writeArchive } from '../../src/core/format/archive.ts';
import { writeGlb } from '../../src/core/format/glb.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { makeTodData } from '../../src/core/protocol/artnet-rdm.ts';
import { fillSacn, makeSacnPacket, multicastGroup } from '../../src/core/protocol/sacn.ts';
import { standinAddresses } from '../../src/addresses.ts';
import { hashOf } from '../../src/core/records/blob.ts';
import { copperlineRink } from '../../src/db/seed/copperline.ts';
import { millpondWalk } from '../../src/db/seed/millpond.ts';
import { temporaryFolder } from '../support/app.ts';
import { chase, profileBySlug, scene, showWith, slotsAt, units } from '../support/rig.ts';

const folder = temporaryFolder();
after(() => rmSync(folder, { recursive: true }));
const file = (name: string): string => path.join(folder, name);

const show = showWith(
  ...units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1 },
    { slug: 'b', profile: 'quillon-strip', mode: '300px', universe: 2, address: 1 },
  ),
  scene('warm', { a: { Dimmer: 1 }, b: { Dimmer: 1 } }, { fadeInMs: 2000 }),
  chase('walk', ['warm']),
);
before(() => {
  const bytes = writeArchive([...show.values()]);
  writeFileSync(file('show.kite'), bytes);
  writeFileSync(file('cut.kite'), bytes.subarray(0, bytes.length / 2));
});

describe('the headless command', () => {
  test('room check and room focus: the demo is sound, and a lamp under the floor is named', async () => {
    const records = copperlineRink(builtInProfiles(), standinAddresses('/tests'));
    writeFileSync(file('rink.kite'), writeArchive(records));
    const checked = await kite('room', 'check', file('rink.kite'));
    const { ok, hanging, things, faults } = checked.out as Record<string, unknown>;
    assert.deepEqual([checked.code, ok, hanging, faults], [0, true, 19, []]);
    assert.equal((things as Record<string, number>)['truss'], 4);
    const focused = await kite('room', 'focus', file('rink.kite'));
    const wash = (focused.out as Record<string, unknown>[]).find((line) => line['unit'] === 'Wash north 1')!;
    assert.equal(focused.code, 0);
    assert.deepEqual([wash['on'], wash['tiltDeg']], ['floor', 38]);
    // 4 m high, 38 degrees down: 4 / sin 38.
    assert.ok(Math.abs((wash['distanceM'] as number) - 6.5) < 0.01);
    const sunk = records.map((r) => (r.id === 'unit:wash1' ? { ...r, position: { x: 0, y: 0, z: -1 } } : r));
    writeFileSync(file('sunk.kite'), writeArchive(sunk as typeof records));
    const bad = await kite('room', 'check', file('sunk.kite'));
    assert.deepEqual([bad.code, bad.fault?.['code'], bad.fault?.['path']], [1, 'UNDER_FLOOR', 'unit:wash1.position.z']);
    const thing = wedgeThing();
    writeFileSync(file('model.kite'), writeArchive([...records, thing], new Map([[WEDGE.hash, WEDGE.bytes]])));
    assert.equal((await kite('room', 'check', file('model.kite'))).code, 0);
    // It is a glTF all right, but of another kind than is kept.
    const other = writeGlb({ json: { asset: { version: '2.0' } }, bin: new Uint8Array(0) });
    const spoiled = { ...thing, model: { ...thing.model!, blob: hashOf(other) } };
    writeFileSync(file('model.kite'), writeArchive([...records, spoiled], new Map([[hashOf(other), other]])));
    const unsound = await kite('room', 'check', file('model.kite'));
    assert.deepEqual([unsound.code, unsound.fault?.['path']], [1, 'thing:every.model']);
    const missing = await kite('room', 'focus');
    assert.deepEqual([missing.code, missing.fault?.['code']], [2, 'ARGUMENT_MISSING']);
  });
  test('aim solve: a head that hangs finds the floor; what cannot be asked is named', async () => {
    writeFileSync(file('rink.kite'), writeArchive(copperlineRink(builtInProfiles(), standinAddresses('/tests'))));
    const at = (unit: string, place: string) => kite('aim', 'solve', file('rink.kite'), '--unit', unit, '--at', place);
    const down = await at('1', '-7.5,0.5,0');
    assert.equal(down.code, 0);
    const { pan, tilt, missDeg, flipped, tiltDmx } = down.out as Record<string, number>;
    assert.deepEqual([pan, tilt, missDeg, flipped, tiltDmx], [0, 0, 0, false, 32_768]);
    for (const [unit, place, code] of [
      ['1', '1,2', 'PLACE'],
      ['1', '1,two,3', 'PLACE'],
      ['999', '1,2,3', 'NO_SUCH_UNIT'],
      ['7', '1,2,3', 'NO_AXES'],
    ] as const) {
      const bad = await at(unit, place);
      assert.deepEqual([bad.code, bad.fault?.['code']], [2, code]);
    }
  });
  test('aim table: every head and every aim, also as in another of its rooms; a room nobody knows is named', async () => {
    const rink = documentOf(copperlineRink(builtInProfiles(), standinAddresses('/tests')));
    const measures = { name: 'Cellar club', widthM: 10, depthM: 8, heightM: 3.4, walls: true };
    const ids = { room: 'room:club', left: () => 'room:rink' as const } as const;
    const { change } = roomSetIn(rink, { measures, things: new Map(), floor: null }, ids);
    writeFileSync(file('rooms.kite'), writeArchive([...applyChange(rink, change).values()]));
    const here = await kite('aim', 'table', file('rooms.kite'));
    const there = await kite('aim', 'table', file('rooms.kite'), '--room', 'rink hall');
    const [one, other] = [here, there].map(({ out }) => out as Record<string, unknown>);
    assert.deepEqual([here.code, one!['room'], there.code, other!['room']], [0, 'Cellar club', 0, 'Rink hall']);
    const lines = other!['lines'] as { unit: number; aim: string; pan: number; panDmx: number; missDeg: number }[];
    assert.equal(lines.length, 6 * [...rink.values()].filter((r) => r.kind === 'aim').length);
    const own = solutionFor(rink, 'unit:spot2', 'aim:booth')!;
    const line = lines.find((l) => l.unit === 2 && l.aim === 'Booth')!;
    assert.ok(Math.abs(line.pan - own.pan) < 0.001);
    assert.ok((other!['outOfReach'] as { missDeg: number }[]).every(({ missDeg }) => missDeg > 0.1));
    assert.notDeepEqual(one!['lines'], lines);
    const nowhere = await kite('aim', 'table', file('rooms.kite'), '--room', 'moon');
    assert.deepEqual([nowhere.code, nowhere.fault?.['code']], [2, 'NO_SUCH_ROOM']);
  });
  test('aim trueup: an axis that runs the other way is found from two spots; readings that say nothing are refused', async () => {
    const unit = { position: { x: 0, y: 0, z: 4 }, rotation: { x: 0, y: 180, z: 0 } };
    const readings = [
      { spot: { x: 4, y: 0, z: 0 }, pan: -90, tilt: 45 },
      { spot: { x: 0, y: 4, z: 0 }, pan: 0, tilt: 45 },
      { spot: { x: -4, y: 0, z: 0 }, pan: 90, tilt: 45 },
    ];
    writeFileSync(file('readings.json'), JSON.stringify({ unit, readings }));
    const found = await kite('aim', 'trueup', file('readings.json'));
    const { inversion, swap, hanging, residualDeg } = found.out as Record<string, unknown>;
    assert.deepEqual([found.code, inversion, swap], [0, { pan: true, tilt: false }, false]);
    assert.deepEqual([hanging, residualDeg], [unit.rotation, 0]);
    for (const [spoiled, code] of [
      ['{', 'NOT_JSON'],
      [JSON.stringify({ unit, readings: readings.slice(0, 1) }), 'READINGS'],
      [JSON.stringify({ unit, readings: [{ spot: { x: 1, y: 2 } }] }), 'BAD_VALUE'],
    ] as const) {
      writeFileSync(file('readings.json'), spoiled);
      const bad = await kite('aim', 'trueup', file('readings.json'));
      assert.deepEqual([bad.code, bad.fault?.['code']], [2, code]);
    }
  });
  test('address', async () => {
    const { code, out } = await kite('address', '3.145');
    assert.deepEqual(
      [code, out],
      [0, { universe: 3, address: 145, absolute512: 1169, absolute510: 1165, switches: [1, 5, 8] }],
    );
    const bad = await kite('address', '3.513');
    assert.deepEqual([bad.code, bad.out, bad.fault?.['code']], [2, null, 'ADDRESS_RANGE']);
  });

  test('archive check', async () => {
    const good = await kite('archive', 'check', file('show.kite'));
    assert.deepEqual([good.code, good.out], [0, { ok: true, version: ARCHIVE_VERSION, faults: [] }]);
    const cut = await kite('archive', 'check', file('cut.kite'));
    assert.equal(cut.code, 1);
    assert.deepEqual([(cut.out as { ok: boolean }).ok, cut.fault?.['code']], [false, 'ARCHIVE_TRUNCATED']);
    const none = await kite('archive', 'check', file('nothing.kite'));
    assert.deepEqual([none.code, none.fault?.['code']], [2, 'FILE_UNREADABLE']);
  });

  test('render gives the bytes of a moment in the middle of a fade', async () => {
    const { code, out } = await kite('render', file('show.kite'), '--play', 'warm', '--at', '0.5');
    assert.equal(code, 0);
    const [frame] = (out as { frames: { at: number; universes: Record<string, number[]> }[] }).frames;
    assert.equal(frame?.at, 0.5);
    assert.deepEqual(Object.keys(frame!.universes), ['1', '2', '3']);
    for (const universe of [1, 2, 3])
      assert.deepEqual(frame!.universes[universe], [...slotsAt(show, { play: ['scene:warm'], at: 500, universe })]);
    assert.equal(frame!.universes[1]![0], 64);
    const unknown = await kite('render', file('show.kite'), '--play', 'cold', '--at', '1');
    assert.deepEqual([unknown.code, unknown.fault?.['code']], [2, 'UNKNOWN_PLAY']);
    const late = await kite('render', file('show.kite'), '--play', 'warm', '--at', '-1');
    assert.deepEqual([late.code, late.fault?.['code']], [2, 'OPTION_RANGE']);
  });

  test('render gives frames of a span, or their hashes, the same each time', async () => {
    const span = ['render', file('show.kite'), '--play', 'warm, mood:calm', '--from', '0', '--to', '1', '--fps', '4'];
    const first = (await kite(...span, '--hash')).out as { frames: { at: number; sha256: string }[]; sha256: string };
    assert.deepEqual(
      first.frames.map((f) => f.at),
      [0, 0.25, 0.5, 0.75, 1],
    );
    assert.ok(first.frames.every((f) => /^[0-9a-f]{64}$/.test(f.sha256)));
    assert.equal(new Set(first.frames.map((f) => f.sha256)).size, 5, 'every frame of a fade is another');
    assert.deepEqual((await kite(...span, '--hash')).out, first);
    const whole = (await kite(...span)).out as { frames: { universes: Record<string, number[]> }[] };
    const bytes = Buffer.from(['1', '2', '3'].flatMap((u) => whole.frames[2]!.universes[u]!));
    assert.equal(createHash('sha256').update(bytes).digest('hex'), first.frames[2]!.sha256);
    for (const [more, code] of [
      [['--from', '5', '--to', '1'], 'OPTION_RANGE'],
      [['--from', '0', '--to', '3600', '--fps', '1000'], 'TOO_MANY_FRAMES'],
      [['--at', '1', '--fps', '3'], 'OPTION_CLASH'],
      [[], 'OPTION_MISSING'],
    ] as const) {
      const bad = await kite('render', file('show.kite'), '--play', 'warm', ...more);
      assert.deepEqual([bad.code, bad.fault?.['code']], [2, code]);
    }
  });

  test('explain says who sets an attribute, and why', async () => {
    const [unit] = recordsOf(show, 'unit').filter((u) => u.patch?.address === 1 && u.patch.universe === 1);
    const asked = ['explain', file('show.kite'), '--play', 'warm', '--unit', String(unit!.number), '--at', '0.5'];
    const { code, out } = await kite(...asked);
    assert.equal(code, 0);
    const { attributes } = out as {
      attributes: { attribute: string; sent: number; influences: { name: string; verdict: string; level: number }[] }[];
    };
    const level = attributes.find((a) => a.attribute === 'Dimmer')!;
    assert.deepEqual(
      level.influences.map((i) => [i.name, i.verdict, i.level]),
      [
        ['At rest', 'covered', 1],
        // In the middle of its fade it is what is sent: the rest has nothing to give.
        ['warm', 'wins', 0.25],
      ],
    );
    assert.equal(Math.round(level.sent * 255), 64);
    const nobody = await kite(...asked.slice(0, 5), '9999', '--at', '1');
    assert.deepEqual([nobody.code, nobody.fault?.['code'], nobody.fault?.['path']], [2, 'UNKNOWN_UNIT', '--unit']);
    const other = await kite(...asked, '--attribute', 'Prism9');
    assert.deepEqual([other.code, other.fault?.['code']], [2, 'UNKNOWN_ATTRIBUTE']);
  });

  test('profile find, read, write and ranges', async () => {
    const found = await kite('profile', 'find', '14 ch spot zoom');
    assert.deepEqual(found.out, {
      count: 1,
      profiles: [
        {
          maker: 'Quillon',
          model: 'Heron 150 Spot',
          kind: 'head',
          modes: [
            { name: 'Basic', footprint: 14 },
            { name: 'Extended', footprint: 16 },
          ],
        },
      ],
    });
    const all = (await kite('profile', 'find')).out as { count: number };
    assert.ok(all.count >= 90);
    writeFileSync(file('head.json'), JSON.stringify(profileBySlug('quillon-heron')));
    const written = await kite('profile', 'write', file('head.json'), file('head.gdtf'));
    assert.deepEqual([written.code, (written.out as { ok: boolean }).ok], [0, true]);
    const read = await kite('profile', 'read', file('head.gdtf'));
    assert.deepEqual([read.code, read.out], [0, { profile: profileBySlug('quillon-heron'), notKept: [], faults: [] }]);
    writeFileSync(file('table.txt'), 'Colour\n0-9 White\n10–19\tRed\n25-20 Blue\n');
    const ranges = await kite('profile', 'ranges', file('table.txt'), '--attribute', 'Color1');
    const { ranges: rows, faults } = ranges.out as { ranges: unknown[]; faults: { line: number; code: string }[] };
    assert.equal(ranges.code, 1);
    assert.deepEqual(rows, [
      { from: 0, to: 9, name: 'White', colour: '#ffffff' },
      { from: 10, to: 19, name: 'Red', colour: '#f02020' },
    ]);
    assert.deepEqual([faults[0]?.line, faults[0]?.code], [4, 'RANGE_BACKWARDS']);
    writeFileSync(file('bad.json'), JSON.stringify({ ...profileBySlug('quillon-heron'), modes: [] }));
    const bad = await kite('profile', 'write', file('bad.json'), file('x.gdtf'));
    assert.deepEqual([bad.code, bad.fault?.['path']], [2, `${file('bad.json')}.modes`]);
    const none = await kite('profile', 'read', file('table.txt'));
    assert.deepEqual([none.code, none.fault?.['code']], [2, 'NOT_AN_ARCHIVE']);
  });

  test('the plot is drawn to scale from every side; what is not known is refused', async () => {
    const walk = file('walk.kite');
    writeFileSync(walk, writeArchive(millpondWalk(builtInProfiles(), standinAddresses('/tests')), sampleBlobs()));
    const { code, out } = await kite('plot', 'draw', walk, file('plot.svg'), '--side', 'front', '--scale', '200');
    assert.deepEqual([code, (out as { side: string }).side], [0, 'front']);
    const svg = readFileSync(file('plot.svg'), 'utf8');
    assert.match(svg, /^<svg .*viewBox="0 0 420 297"/);
    assert.match(svg, /Scale 1 : 200/);
    // The matrix alone has a thousand dots.
    assert.ok((svg.match(/h0/g) ?? []).length > 8000);
    const bad = await kite('plot', 'draw', walk, file('plot.svg'), '--side', 'above');
    assert.deepEqual([bad.code, bad.fault?.['path']], [2, '--side']);
  });

  test('listen hears what is sent', async () => {
    const packet = makeSacnPacket({ cid: new Uint8Array(16).fill(9), name: 'Test source' }, 61_234, 130);
    const socket = dgram.createSocket('udp4');
    await new Promise<void>((resolve) => socket.bind(0, '127.0.0.1', () => resolve()));
    socket.setMulticastInterface('127.0.0.1');
    let sequence = 0;
    const timer = setInterval(() => {
      fillSacn(packet, sequence++, new Uint8Array(512));
      socket.send(packet, 5568, multicastGroup(61_234));
    }, 25);
    try {
      const { code, out } = await kite('listen', '--seconds', '1', '--universes', '61234');
      assert.equal(code, 0);
      const source = (out as { sources: Record<string, unknown>[] }).sources.find((s) => s['universe'] === 61_234);
      assert.ok(source, JSON.stringify(out));
      assert.deepEqual(
        [source['protocol'], source['name'], source['priority'], source['lost']],
        ['sacn', 'Test source', 130, 0],
      );
      // How many came in that second depends on the machine; that they are counted right does not.
      assert.ok(Number(source['packets']) > 3);
      assert.ok(Math.abs(Number(source['rate']) - Number(source['packets'])) < 1);
    } finally {
      clearInterval(timer);
      socket.close();
    }
  });

  test('listen says who wins in a universe, and hears RDM', async () => {
    // To everybody: what goes to one address reaches one program alone, and others on this machine may listen too.
    const net = `127.206.${process.pid & 255}`;
    const socket = dgram.createSocket('udp4');
    await new Promise<void>((resolve) => socket.bind(0, `${net}.9`, () => resolve()));
    socket.setMulticastInterface('127.0.0.1');
    socket.setBroadcast(true);
    const sources = [90, 120, 120].map((priority, i) =>
      makeSacnPacket({ cid: new Uint8Array(16).fill(i + 1), name: `Desk ${i}` }, 77, priority),
    );
    const [tod] = makeTodData(3, 1, 1, ['7ff1:0000a101']);
    let sequence = 0;
    const timer = setInterval(() => {
      sequence++;
      for (const packet of sources) {
        fillSacn(packet, sequence, new Uint8Array(512).fill(50));
        socket.send(packet, 5568, multicastGroup(77));
      }
      socket.send(tod!, 6454, '127.255.255.255');
    }, 25);
    try {
      const { out } = await kite('listen', '--seconds', '1', '--universes', '77');
      const { universes, rdm } = out as { universes: Record<string, unknown>[]; rdm: Record<string, unknown>[] };
      assert.deepEqual(
        universes.filter((u) => u['universe'] === 77),
        [{ protocol: 'sacn', universe: 77, winners: ['Desk 1', 'Desk 2'], merged: true, others: 1, slotsUp: 512 }],
      );
      const found = rdm.find((r) => r['uid'] === '7ff1:0000a101');
      assert.deepEqual([found?.['what'], found?.['portAddress']], ['has device', 3]);
    } finally {
      clearInterval(timer);
      socket.close();
    }
  });

  test('a stand-in is started alone, found, tested and says what it got', async () => {
    const net = `127.207.${process.pid & 255}`;
    const standin = kite('standin', 'artnet', '--address', `${net}.20`, '--rdm', '12', '--seconds', '11');
    await listening(`${net}.20`, 6454);
    const found = await kite('discover', '--seconds', '2', '--own', `${net}.1`, '--broadcast', `${net}.20`);
    const { nodes, rdm } = found.out as { nodes: { ip: string }[]; rdm: { uid: string }[] };
    assert.ok(
      nodes.some((n) => n.ip === `${net}.20`),
      JSON.stringify(nodes),
    );
    assert.equal(rdm.length, 12);
    const sent = await kite('test', `artnet:2@${net}.20`, '--all', '--level', '50', '--to', '4', '--seconds', '1');
    assert.equal(sent.code, 0, JSON.stringify(sent.fault));
    assert.ok(Number((sent.out as { packets: number }).packets) >= 20);
    const { out } = await standin;
    const port = (out as { ports: { wireUniverse: number; packets: number; lost: number }[] }).ports[2]!;
    assert.equal(port.wireUniverse, 2);
    assert.ok(port.packets >= 20, JSON.stringify(port));
    assert.equal(port.lost, 0);
  });

  test('network commands that make no sense say so', async () => {
    const code = async (...args: string[]) => (await kite(...args)).fault?.['code'];
    assert.deepEqual(
      [
        await code('standin', 'kettle'),
        await code('standin', 'sacn', '--address', 'here'),
        await code('test', 'artnet:0'),
        await code('test', 'sacn:1@127.0.0.1', '--all', '--ramp', '2'),
        await code('test', 'serial:/dev/no-such-port', '--seconds', '0.2'),
      ],
      ['STANDIN_KIND', 'OPTION_RANGE', 'OUTPUT', 'OPTION_CLASH', 'NOT_SENT'],
    );
  });

  test('a drawn grid is checked, and cells of a shape are placed', async () => {
    writeFileSync(file('kite.csv'), ',1,\n4,,2\n,3,\n');
    const good = await kite('grid', 'check', file('kite.csv'));
    assert.equal(good.code, 0);
    const { columns, rows, cells, last } = good.out as Record<string, unknown>;
    assert.deepEqual([columns, rows, cells, last], [3, 3, 4, { number: 4, row: 2, column: 1 }]);
    writeFileSync(file('odd.csv'), '\n1;3\nx;3\n');
    const odd = await kite('grid', 'check', file('odd.csv'));
    assert.deepEqual([odd.code, odd.fault?.['code']], [1, 'GRID_FAULTS']);
    const found = odd.out as { missing: object[]; repeated: object[]; notNumbers: object[] };
    assert.deepEqual(found.missing, [{ number: 2, row: 2, column: 1 }]);
    assert.deepEqual(found.repeated, [{ number: 3, row: 3, column: 2, firstRow: 2, firstColumn: 2 }]);
    assert.deepEqual(found.notNumbers, [{ text: 'x', row: 3, column: 1 }]);
    writeFileSync(file('wide.csv'), Array.from({ length: 401 }, (_, i) => i + 1).join(','));
    assert.equal((await kite('grid', 'check', file('wide.csv'))).fault?.['code'], 'GRID_TOO_LARGE');
    writeFileSync(file('line.json'), JSON.stringify({ shape: 'line', count: 3, widthM: 2 }));
    const line = await kite('prop', 'cells', file('line.json'));
    assert.deepEqual(line.out, {
      shape: 'line',
      count: 3,
      cells: [
        [-1, 0, 0],
        [0, 0, 0],
        [1, 0, 0],
      ],
    });
    writeFileSync(file('bad.json'), JSON.stringify({ shape: 'line', count: 0, widthM: 2 }));
    const bad = await kite('prop', 'cells', file('bad.json'));
    assert.deepEqual([bad.code, bad.fault?.['path']], [2, `${file('bad.json')}.count`]);
  });

  test('what it does not know is told as JSON', async () => {
    for (const [args, expected] of [
      [[], 'UNKNOWN_COMMAND'],
      [['dance'], 'UNKNOWN_COMMAND'],
      [['address', '1', '--loud', 'x'], 'UNKNOWN_OPTION'],
      [['listen', '--seconds', 'x'], 'OPTION_RANGE'],
    ] as const) {
      const { code, out, fault } = await kite(...args);
      assert.deepEqual([code, out, fault?.['code']], [2, null, expected]);
    }
  });
});

describe('sheets without a screen', () => {
  interface Checked {
    rows: { row: number; ok: boolean; number: number | string; name: string; last?: string | null }[];
    faults: { row: number; column: string; value: string; code: string; message: string; remedy: string }[];
    warnings: { code: string; column: string }[];
  }
  const sheet = [
    'Delivery of the second week',
    '',
    'Number;Name;Profile;Mode;Universe;Address;End',
    '1;Star 1;Quillon Stave 16;50ch;4;1;4.50',
    '2;"Star',
    '2";Quillon Stave 16;50ch;4;51;4.98',
    '3;Lamp;Generic Dimmer;;4;0;',
    '3;Lamp again;Generic Dimer;;4;200;',
    '5;Porch;Generic Dimmer;;4;60;',
  ].join('\r\n');

  test('check names row, column, value and the way out, with exit 1', async () => {
    writeFileSync(file('rig.csv'), sheet);
    const { code, out, fault } = await kite('sheet', 'check', file('rig.csv'));
    const { rows, faults } = out as Checked;
    assert.equal(code, 1);
    // A line break inside quotes: the next row begins a line later.
    assert.deepEqual(
      rows.map((r) => [r.row, r.ok]),
      [
        [4, true],
        [5, false],
        [7, false],
        [8, false],
        [9, false],
      ],
    );
    assert.deepEqual(faults.map((f) => `${f.row} ${f.column} ${f.code}`).sort(), [
      '5 Address OVERLAP',
      '5 End EXPECTED_END',
      '7 Address ADDRESS_RANGE',
      '8 Number NUMBER_TWICE',
      '8 Profile UNKNOWN_PROFILE',
      '9 Address OVERLAP',
    ]);
    assert.ok(faults.every((f) => f.remedy !== '' && f.message !== ''));
    assert.equal(rows[0]!.last, '4.50');
    assert.equal((fault as { code: string }).code, faults[0]!.code);
  });

  test('a sound sheet is exit 0, and a library of one’s own is used', async () => {
    const own = { ...profileBySlug('generic-dimmer'), id: 'profile:own', maker: 'Marrow & Tine', model: 'Attic Lamp' };
    writeFileSync(file('own.json'), JSON.stringify([own]));
    writeFileSync(file('own.csv'), 'Name,Type,Address\nAttic 1,Attic Lamp,9.1\n');
    const without = await kite('sheet', 'check', file('own.csv'));
    assert.equal(without.code, 1);
    const { code, out } = await kite('sheet', 'check', file('own.csv'), '--library', file('own.json'));
    assert.deepEqual([code, (out as Checked).faults], [0, []]);
  });

  test('a column that is not known is told, and said on the command line it is taken', async () => {
    writeFileSync(file('odd.csv'), 'Fixture,Model,Start,Supplier\nLeft,Generic Dimmer,1.200,By the mill\n');
    const { code, out } = await kite('sheet', 'check', file('odd.csv'));
    const { warnings, rows } = out as Checked;
    assert.deepEqual(
      [code, rows[0]!.name, warnings.map((w) => [w.code, w.column])],
      [0, 'Left', [['COLUMN_UNKNOWN', 'Supplier']]],
    );
    const said = await kite('sheet', 'check', file('odd.csv'), '--columns', 'Supplier=notes');
    assert.deepEqual([said.code, (said.out as { warnings: unknown[] }).warnings], [0, []]);
    const wrong = await kite('sheet', 'check', file('odd.csv'), '--columns', 'Buyer=notes');
    assert.deepEqual([wrong.code, wrong.fault?.['code']], [2, 'NO_SUCH_COLUMN']);
  });

  test('what is no sheet cannot be used, with exit 2', async () => {
    writeFileSync(file('words.csv'), 'hello\nworld\n');
    const words = await kite('sheet', 'check', file('words.csv'));
    assert.deepEqual([words.code, words.out, words.fault?.['code']], [2, null, 'NO_HEADINGS']);
    writeFileSync(file('cut.xlsx'), Buffer.from('PK\u0003\u0004cut'));
    const cut = await kite('sheet', 'check', file('cut.xlsx'));
    assert.deepEqual([cut.code, cut.out], [2, null]);
    assert.equal((await kite('sheet', 'check', file('not-there.csv'))).fault?.['code'], 'FILE_UNREADABLE');
  });

  test('export writes CSV and XLSX that check finds sound', async () => {
    for (const name of ['out.csv', 'out.xlsx']) {
      const { code, out } = await kite('sheet', 'export', file('show.kite'), file(name));
      assert.deepEqual([code, (out as { rows: number }).rows], [0, 2]);
      const checked = await kite('sheet', 'check', file(name));
      assert.deepEqual([checked.code, (checked.out as Checked).faults], [0, []], name);
    }
    const odd = await kite('sheet', 'export', file('show.kite'), file('out.pdf'));
    assert.deepEqual([odd.code, odd.fault?.['code']], [2, 'UNKNOWN_FORMAT']);
  });

  test('renumber shows before and after, and writes only where it is told to', async () => {
    const dry = await kite('renumber', file('show.kite'), '--dry-run', '--start', '5.1', '--gap', '2', '--units', '1');
    assert.deepEqual(
      [dry.code, dry.out],
      [
        0,
        {
          dryRun: true,
          moves: [{ number: 1, name: 'Unit a', before: '1.1', after: '5.1' }],
          unplaced: [],
        },
      ],
    );
    const done = await kite('renumber', file('show.kite'), file('moved.kite'), '--start', '7.1');
    assert.equal(done.code, 0);
    const again = await kite('renumber', file('moved.kite'), '--dry-run', '--start', '7.1');
    assert.deepEqual((again.out as { moves: unknown[] }).moves, []);
    assert.equal((await kite('renumber', file('show.kite'))).fault?.['code'], 'ARGUMENT_MISSING');
    assert.equal(
      (await kite('renumber', file('show.kite'), '--dry-run', '--order', 'luck')).fault?.['code'],
      'OPTION_RANGE',
    );
  });
});

import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, describe, test } from 'node:test';
import { makeTodData } from '../../src/core/protocol/artnet-rdm.ts';
import { ARTNET_PORT, makeArtPollReply, type ArtNode } from '../../src/core/protocol/artnet.ts';
import { uidOfNumber } from '../../src/core/protocol/rdm.ts';
import { fillSacn, makeSacnPacket, SACN_PORT } from '../../src/core/protocol/sacn.ts';
import { misbehaviourSchema } from '../../src/core/protocol/standin.ts';
import { FaultError } from '../../src/core/faults.ts';
import { make } from '../../src/core/records/index.ts';
import { InputMemory } from '../../src/engine/shared.ts';
import { Console } from '../../src/standins/console.ts';
import { demoResponders } from '../../src/standins/demo.ts';
import { Gateway } from '../../src/standins/gateway.ts';
import { LampHub } from '../../src/standins/lamp-hub.ts';
import { MappedStringDevice } from '../../src/standins/mapped-string.ts';
import { RdmResponder } from '../../src/standins/rdm-responder.ts';
import { SECOND_PORT_LABEL, UsbInterface } from '../../src/standins/usb.ts';
import { units } from '../support/rig.ts';
import { until } from '../support/app.ts';
import { mouth, TestNetwork, listening } from '../support/network.ts';
import { builtInProfiles } from '../../src/core/profile/library.ts';

let index = 0;
const made: TestNetwork[] = [];
const closing: (() => void)[] = [];
const network = (): TestNetwork => {
  const one = new TestNetwork(index++);
  made.push(one);
  return one;
};
afterEach(() => {
  for (const one of made.splice(0)) one.end();
  for (const close of closing.splice(0)) close();
});
const misbehave = (given: Parameters<typeof misbehaviourSchema.parse>[0]) => misbehaviourSchema.parse(given);
const artnet = (t: TestNetwork, last: number, over: object = {}): Gateway =>
  new Gateway(
    {
      id: `g${last}`,
      kind: 'artnet',
      name: `Node ${last}`,
      address: t.at(last),
      wireUniverses: [0, 1, 2, 3],
      random: t.random,
      ...over,
    },
    t.now,
  );
const ask = { ask: 'scan' } as const;
const FALSE_NODE: ArtNode = {
  ip: '',
  bindIndex: 1,
  shortName: '',
  longName: 'x',
  firmware: 1,
  style: 0,
  mac: '00:00:00:00:00:00',
  rdm: false,
  report: '',
  inputs: [],
  outputs: [],
};

describe('finding Art-Net devices', () => {
  test('a flood of false devices from everywhere does not keep a real one out, then or later', async () => {
    const t = network();
    const late = artnet(t, 22);
    late.order({ id: 'g22', misbehave: misbehave({ vanished: true }) });
    await t.stand(artnet(t, 20), late);
    const n = t.start();
    await n.ask(ask);
    const has = (name: string): boolean => n.state().nodes.some((d) => d.name === name && d.state === 'found');
    await until('the first', () => has('Node 20'));
    // It has answered twice, some seconds apart: it is no stranger.
    const since = t.now();
    await until('the next poll', () => n.state().nodes.some((d) => d.lastSeenMs > since + 2000), 8);
    for (let i = 0; i < 1300; i++) {
      const false_ = await mouth(`127.199.${i >> 8}.${i & 255 || 1}`);
      const reply = makeArtPollReply({
        ...FALSE_NODE,
        ip: '10.0.0.1',
        shortName: `False ${i}`,
        bindIndex: 1 + (i % 3),
      });
      await false_.say(reply, ARTNET_PORT, t.at(1));
      false_.close();
    }
    await until('the flood', () => n.state().ignored > 0);
    assert.ok(has('Node 20'));
    late.order({ id: 'g22', misbehave: misbehave({}) });
    await n.ask(ask);
    await until('the new one', () => has('Node 22'));
    await until('the flood to be over', () => n.state().nodes.length < 10, 25);
    assert.ok(has('Node 20') && has('Node 22'));
  });

  test('a scan finds all that answer, also more than four ports; a poll keeps them found', async () => {
    const t = network();
    await t.stand(artnet(t, 20), artnet(t, 21, { wireUniverses: [16, 17, 18, 19, 20, 21] }));
    const n = t.start();
    assert.equal(n.state().nodes.length, 0);
    await listening(t.at(1), ARTNET_PORT);
    await n.ask(ask);
    await until('three replies', () => n.state().nodes.length === 3);
    const ports = n.state().nodes.flatMap((node) => node.outputs.map((o) => o.portAddress));
    assert.deepEqual(
      ports.sort((a, b) => a - b),
      [0, 1, 2, 3, 16, 17, 18, 19, 20, 21],
    );
    assert.ok(n.state().nodes.every((node) => node.state === 'found' && node.firmware === 0x103));
  });
  test('one that vanishes is lost after 10 s and found again by itself', async () => {
    const t = network();
    const gateway = artnet(t, 20);
    await t.stand(gateway);
    let shift = 0;
    const n = t.start([], { now: () => t.now() + shift });
    await listening(t.at(1), ARTNET_PORT);
    await n.ask(ask);
    await until('the device', () => n.state().nodes[0]?.state === 'found');
    gateway.order({ id: 'g20', misbehave: misbehave({ vanished: true }) });
    shift += 10_500;
    assert.equal(n.state().nodes[0]!.state, 'lost');
    gateway.order({ id: 'g20', misbehave: misbehave({}) });
    await until('it again', () => n.state().nodes[0]!.state === 'found', 6);
  });
  test('outputs that send to what is found follow the devices', async () => {
    const t = network();
    await t.stand(artnet(t, 20), artnet(t, 21));
    const output = make('output', {
      id: 'output:o',
      name: 'All',
      protocol: 'artnet',
      delivery: 'found',
      interfaceAddress: t.at(1),
    });
    const n = t.start([output]);
    await until('both', () => n.hostsOf(2).length === 2, 8);
    assert.deepEqual(n.hostsOf(2), [t.at(20), t.at(21)]);
    assert.deepEqual(n.hostsOf(9), []);
    await until('to be told', () => t.hostsChanged > 0);
  });
  test('65,000 devices of a hostile sender are limited, rubbish is counted, the real one is still found', async () => {
    const t = network();
    await t.stand(artnet(t, 20));
    const n = t.start([
      make('output', {
        id: 'output:o',
        name: 'O',
        protocol: 'artnet',
        destinations: [t.at(20)],
        interfaceAddress: t.at(1),
      }),
    ]);
    await until('the real one', () => n.state().nodes.length === 1);
    const hostile = await mouth(t.at(66));
    closing.push(() => hostile.close());
    for (let i = 0; i < 65_000; i++) {
      const node: ArtNode = {
        ip: `10.${i & 255}.${i >> 8}.1`,
        bindIndex: i & 255,
        shortName: `Fake ${i}`,
        longName: 'x',
        firmware: 1,
        style: 0,
        mac: '00:00:00:00:00:00',
        rdm: true,
        report: '',
        inputs: [],
        outputs: [{ portAddress: i & 0x7ff, transmitting: false, merging: false }],
      };
      const packet = makeArtPollReply(node);
      if (i % 50 === 0) packet.fill(0x55, 0, 8);
      await hostile.say(packet, ARTNET_PORT, t.at(1));
    }
    const uids = Array.from({ length: 200 }, (_, i) => uidOfNumber(0x7ff0_0000_0000 + i));
    for (let i = 0; i < 40; i++)
      for (const packet of makeTodData(
        0,
        1,
        1,
        uids.map((_, k) => uidOfNumber(0x7ff0_0000_0000 + i * 200 + k)),
      ))
        await hostile.say(packet, ARTNET_PORT, t.at(1));
    await until('the flood', () => n.state().refused > 0);
    const state = n.state();
    assert.ok(state.nodes.length <= 1000, String(state.nodes.length));
    assert.ok(state.rdm.length <= 2000, String(state.rdm.length));
    assert.ok(state.refused > 0);
    assert.equal(state.nodes.find((node) => node.ip === t.at(20))?.state, 'found');
    // What a packet says of its own address counts for nothing.
    assert.ok(state.nodes.every((node) => node.ip.startsWith(t.net)));
  });
});

describe('RDM behind a gateway', () => {
  test('ten devices are found and read; the faulty one is told apart and holds up nobody', async () => {
    const t = network();
    await t.stand(artnet(t, 20, { rdm: { 1: demoResponders() } }));
    const n = t.start();
    await listening(t.at(1), ARTNET_PORT);
    await n.ask(ask);
    await until('all to be read', () => {
      const { rdm } = n.state();
      return rdm.length === 10 && rdm.every((d) => d.state === 'ready' || d.state === 'faulty');
    });
    const { rdm } = n.state();
    const heron = rdm.find((d) => d.uid === '7ff1:0000a101')!;
    assert.deepEqual(
      [
        heron.maker,
        heron.model,
        heron.label,
        heron.info?.startAddress,
        heron.info?.footprint,
        heron.personalities.length,
      ],
      ['Quillon', 'Heron', 'Beam 1', 1, 16, 2],
    );
    assert.deepEqual(heron.sensors, [{ number: 0, name: 'LED board', value: 41.5, unit: '°C' }]);
    assert.deepEqual(
      rdm.filter((d) => d.state === 'faulty').map((d) => d.uid),
      ['7ff4:00000013'],
    );
  });
  test('address, mode and label are set and read back; what is out of range is refused with the reason', async () => {
    const t = network();
    const gateway = artnet(t, 20, { rdm: { 1: demoResponders().slice(0, 2) } });
    await t.stand(gateway);
    const n = t.start();
    await listening(t.at(1), ARTNET_PORT);
    await n.ask(ask);
    const uid = '7ff1:0000a101' as const;
    await until('it', () => n.state().rdm.find((d) => d.uid === uid)?.state === 'ready');
    await n.ask({ ask: 'rdmSet', uid, startAddress: 217, personality: 2, label: 'Left' });
    const device = gateway.responders.find((r) => r.uid === uid)!;
    assert.deepEqual([device.startAddress, device.personality, device.label], [217, 2, 'Left']);
    const seen = n.state().rdm.find((d) => d.uid === uid)!;
    assert.deepEqual([seen.info?.startAddress, seen.info?.footprint, seen.label], [217, 11, 'Left']);
    await assert.rejects(
      n.ask({ ask: 'rdmSet', uid, startAddress: 510 }),
      (error) => error instanceof FaultError && /out of its range/.test(error.faults[0]!.message),
    );
    assert.equal(device.startAddress, 217);
    await n.ask({ ask: 'rdmIdentify', uid, on: true });
    assert.equal(device.identifying, true);
    n.letGo();
    await until('identify to end', () => !device.identifying);
    await assert.rejects(n.ask({ ask: 'rdmRead', uid: '1111:00000001' }), FaultError);
  });
  test('200 devices behind one port are found by halving and read over a wire that loses a tenth', async () => {
    const t = network();
    const responders = Array.from(
      { length: 200 },
      (_, i) =>
        new RdmResponder({
          uid: uidOfNumber(0x7ff1_0000_0000 + i * 7919 * 104_729),
          maker: 'M',
          model: 'X',
          label: `L${i}`,
          startAddress: i + 1,
          personalities: [{ name: 'one', footprint: 1 }],
          personality: 1,
          temperature: null,
        }),
    );
    const gateway = artnet(t, 20, { rdm: { 0: responders } });
    await t.stand(gateway);
    const n = t.start();
    await listening(t.at(1), ARTNET_PORT);
    await n.ask(ask);
    await until('the table', () => n.state().rdm.length === 200);
    gateway.order({ id: 'g20', misbehave: misbehave({ lossPercent: 5, duplicatePercent: 5, reorderPercent: 5 }) });
    await until('forty of them', () => n.state().rdm.filter((d) => d.state === 'ready').length >= 40, 60);
    const ready = n.state().rdm.filter((d) => d.state === 'ready');
    for (const device of ready)
      assert.equal(device.info!.startAddress, responders.find((r) => r.uid === device.uid)!.startAddress);
  });
});

describe('desks that come in', () => {
  test('over a real socket that loses and reorders; the higher priority wins, and silence lets go', async () => {
    const t = network();
    const guest = new Console(
      { id: 'c', name: 'Guest', address: t.at(50), destinations: [t.at(1)], random: t.random },
      t.now,
    );
    await t.stand(guest);
    const record = make('input', {
      id: 'input:i',
      name: 'In',
      protocol: 'sacn',
      use: 'takeover',
      priority: 110,
      universes: [{ wireUniverse: 7, universe: 1 }],
    });
    const n = t.start();
    const memory = new InputMemory(t.show([record]).memory);
    await listening(t.at(1), SACN_PORT);
    guest.order({
      id: 'c',
      misbehave: misbehave({ lossPercent: 20, reorderPercent: 20, jitterMs: 20 }),
      sends: { on: true, universe: 7, priority: 100, level: 1 },
    });
    await until('it to be heard', () => n.state().inputs[0]!.sources.length === 1);
    assert.equal(memory.read(0), null);
    guest.order({ id: 'c', sends: { on: true, universe: 7, priority: 120, level: 1 } });
    const slots = await until('it to take over', () => memory.read(0));
    assert.ok(slots[511]! >= 127);
    const seen = await until('the source', () =>
      n.state().sources.find((s) => s.name === 'Guest' && s.priority === 120),
    );
    assert.deepEqual(seen.universes, [7]);
    await until('lost packets', () => n.state().inputs[0]!.lost > 0);
    guest.order({ id: 'c', sends: { on: false, universe: 7, priority: 120, level: 1 } });
    await until('it to be let go', () => memory.read(0) === null, 5);
  });
  test('malformed, truncated and oversize packets are counted and change nothing', async () => {
    const t = network();
    const n = t.start([
      make('input', {
        id: 'input:i',
        name: 'In',
        protocol: 'sacn',
        use: 'htp',
        universes: [{ wireUniverse: 7, universe: 1 }],
      }),
    ]);
    const hostile = await mouth(t.at(66));
    closing.push(() => hostile.close());
    await listening(t.at(1), SACN_PORT);
    const packet = makeSacnPacket({ cid: new Uint8Array(16).fill(9), name: 'Odd' }, 7, 100);
    fillSacn(packet, 1, new Uint8Array(512).fill(200));
    for (const bad of [
      packet.slice(0, 60),
      packet.slice(0, 300),
      Uint8Array.from([...packet, ...new Uint8Array(900)]),
      new Uint8Array(0),
      new Uint8Array(1400).fill(255),
    ])
      await hostile.say(bad, SACN_PORT, t.at(1));
    const wrong = packet.slice();
    wrong[108] = 255;
    await hostile.say(wrong, SACN_PORT, t.at(1));
    await until('them to be counted', () => n.state().refused >= 4);
    await hostile.say(packet, SACN_PORT, t.at(1));
    await until('the sound one', () => n.inputs.received().get(1)?.[0] === 200);
  });
});

describe(
  'a USB interface on a pseudo-serial port',
  { skip: !existsSync('/usr/bin/socat') && 'socat is not installed' },
  () => {
    test('takes frames, says its serial number, is pulled out in the middle of a frame and comes back', async () => {
      const t = network();
      const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'amber-pty-')), 'port');
      const usb = new UsbInterface({ id: 'w', name: 'W', path: file, random: t.random }, t.now);
      await t.stand(usb);
      t.slots.set(1, new Uint8Array(512).fill(7));
      const output = make('output', { id: 'output:u', name: 'USB', protocol: 'serial', serialPath: file });
      const route = make('route', { id: 'route:u', universe: 1, outputId: 'output:u', wireUniverse: 1 });
      const n = t.start([output, route], { serialPaths: [file] });
      const received = (): Uint8Array => Buffer.from(usb.report().ports[0]!.slots, 'base64');
      await until('frames', () => received()[511] === 7);
      await until(
        'what it says of itself',
        () => n.slowHealthOf('output:u')?.says === 'serial number 60001742, firmware 1.4',
      );
      usb.order({ id: 'w', misbehave: misbehave({ vanished: true }) });
      await until('the fault', () => /unplugged|no port|closed/.test(n.slowHealthOf('output:u')?.lastError ?? ''));
      t.slots.set(1, new Uint8Array(512).fill(9));
      usb.order({ id: 'w', misbehave: misbehave({}) });
      await until('frames again', () => received()[511] === 9, 8);
      assert.equal(n.slowHealthOf('output:u')?.lastError, null);
      assert.equal(usb.report().refused, 0);
    });
    test('two universes on its two ports; it comes back by itself when its tool is killed', async () => {
      const t = network();
      const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'amber-pty-')), 'port');
      const usb = new UsbInterface({ id: 'w', name: 'W', path: file, random: t.random }, t.now);
      await t.stand(usb);
      t.slots.set(1, new Uint8Array(512).fill(7));
      t.slots.set(5, new Uint8Array(512).fill(70));
      const n = t.start(
        [
          make('output', {
            id: 'output:u',
            name: 'USB',
            protocol: 'serial',
            serialPath: file,
            serialLabel2: SECOND_PORT_LABEL,
          }),
          make('route', { id: 'route:a', universe: 1, outputId: 'output:u', wireUniverse: 1 }),
          make('route', { id: 'route:b', universe: 5, outputId: 'output:u', wireUniverse: 2 }),
        ],
        { serialPaths: [file] },
      );
      const at = (port: number): number | undefined => Buffer.from(usb.report().ports[port]!.slots, 'base64')[511];
      await until('both', () => at(0) === 7 && at(1) === 70);
      spawnSync('pkill', ['-9', '-f', `link=${file}`]);
      await until('told', () => typeof n.slowHealthOf('output:u')?.lastError === 'string');
      t.slots.set(1, new Uint8Array(512).fill(8));
      t.slots.set(5, new Uint8Array(512).fill(80));
      await until('both again', () => at(0) === 8 && at(1) === 80);
      assert.equal(usb.report().refused, 0);
    });
    test('what is no serial port is never opened, whatever a show names', async () => {
      const t = network();
      const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-port-'));
      const pipe = path.join(folder, 'pipe');
      spawnSync('mkfifo', [pipe]);
      const file = path.join(folder, 'file');
      writeFileSync(file, 'untouched');
      const link = path.join(folder, 'link');
      symlinkSync('/dev/ptmx', link);
      const paths = [file, pipe, link, '/dev/null', '/dev/tty', '/etc/passwd', '/dev/../etc/passwd', folder];
      const n = t.start(
        paths.flatMap((serialPath, i) => [
          make('output', { id: `output:p${i}`, name: `P${i}`, protocol: 'serial', serialPath }),
          make('route', { id: `route:p${i}`, universe: 1, outputId: `output:p${i}`, wireUniverse: 1 }),
        ]),
      );
      t.slots.set(1, new Uint8Array(512).fill(5));
      for (const [i, name] of paths.entries())
        await until(`a refusal of ${name}`, () =>
          /is not a serial port|is it plugged in/.test(n.slowHealthOf(`output:p${i}`)?.lastError ?? ''),
        );
      assert.equal(readFileSync(file, 'utf8'), 'untouched');
    });
    test('a raw line that cannot make a break says so and does not stop the others', async () => {
      const t = network();
      const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-pty-'));
      const [a, b] = ['a', 'b'].map(
        (name) => new UsbInterface({ id: name, name, path: path.join(folder, name), random: t.random }, t.now),
      );
      await t.stand(a!, b!);
      t.slots.set(1, new Uint8Array(512).fill(5));
      const outputs = (['a', 'b'] as const).flatMap((name) => [
        make('output', {
          id: `output:${name}`,
          name,
          protocol: 'serial',
          serialPath: path.join(folder, name),
          serialKind: name === 'a' ? 'raw' : 'framed',
        }),
        make('route', { id: `route:${name}`, universe: 1, outputId: `output:${name}`, wireUniverse: 1 }),
      ]);
      const n = t.start(outputs, { serialPaths: ['a', 'b'].map((name) => path.join(folder, name)) });
      await until('the reason', () => /cannot make a break/.test(n.slowHealthOf('output:a')?.lastError ?? ''));
      await until('frames of the other', () => Buffer.from(b!.report().ports[0]!.slots, 'base64')[0] === 5);
    });
  },
);

describe('smart lamps', () => {
  const profiles = builtInProfiles().filter((p) => p.id === 'profile:generic-dimmer');
  const hubAt = (t: TestNetwork) =>
    new LampHub({ id: 'h', name: 'Hut', host: t.at(30), port: 8430, lamps: ['Door', 'Desk'], random: t.random }, t.now);
  const records = (t: TestNetwork) => [
    ...profiles,
    ...units({ slug: 'door', profile: 'generic-dimmer', mode: '1ch', address: 5 }),
    make('output', {
      id: 'output:h',
      name: 'Hub',
      protocol: 'hub',
      hubAddress: `${t.at(30)}:8430`,
      lamps: [{ lampId: '1', name: 'Door', unitId: 'unit:door' }],
    }),
  ];
  test('are paired with the button only, listed, mapped, and told their colours at the pace of the hub', async () => {
    const t = network();
    const hub = hubAt(t);
    await t.stand(hub);
    let kept = {};
    const address = `${t.at(30)}:8430`;
    const n = t.start(records(t), { saveHubKeys: async (keys) => void (kept = keys) });
    const refusal =
      (code: string) =>
      (e: unknown): boolean =>
        e instanceof FaultError && e.faults[0]!.code === code;
    // Its address came with the show: nothing is asked of it before somebody says that it is theirs.
    for (const ask of ['hubLamps', 'hubPair', 'stringCells'] as const)
      await assert.rejects(n.ask({ ask, address }), refusal('HOST_UNKNOWN'));
    await until('the reason', () => /came with the show/.test(n.slowHealthOf('output:h')?.lastError ?? ''));
    assert.equal(hub.report().refused, 0, 'nothing was asked of it');
    await assert.rejects(n.ask({ ask: 'trustHost', address: '192.0.2.7:80' }), refusal('HOST_FAR'));
    await n.ask({ ask: 'trustHost', address });
    await assert.rejects(n.ask({ ask: 'hubLamps', address }), refusal('NOT_PAIRED'));
    await assert.rejects(n.ask({ ask: 'hubPair', address }), refusal('PRESS_BUTTON'));
    hub.order({ id: 'h', press: true });
    await n.ask({ ask: 'hubPair', address });
    assert.deepEqual(Object.keys(kept), [address]);
    const answer = await n.ask({ ask: 'hubLamps', address });
    assert.deepEqual(answer.kind === 'lamps' && answer.lamps.map((l) => l.name), ['Door', 'Desk']);
    const moving = setInterval(() => t.slots.set(1, new Uint8Array(512).fill(Math.floor((t.now() / 10) % 256))), 10);
    closing.push(() => clearInterval(moving));
    const before = hub.report().lamps[0]!.updates;
    const beganAt = t.now();
    await until('two seconds of it', () => t.now() - beganAt >= 2000);
    const sent = hub.report().lamps[0]!.updates - before;
    assert.ok(sent >= 4 && sent <= 21, `${sent} updates in 2 s`);
    assert.match(hub.report().lamps[0]!.colour, /^#(..)\1\1$/);
    assert.equal(hub.report().lamps[1]!.updates, 0);
    assert.equal(hub.report().refused, 1);
    hub.order({ id: 'h', misbehave: misbehave({ vanished: true }) });
    await until('the fault', () => /nothing answers/.test(n.slowHealthOf('output:h')?.lastError ?? ''), 8);
    hub.order({ id: 'h', misbehave: misbehave({}) });
    await until('colours again', () => n.slowHealthOf('output:h')?.lastError === null, 8);
  });
  test('a hub that answers rubbish is refused with the reason', async () => {
    const t = network();
    const hub = hubAt(t);
    await t.stand(hub);
    hub.order({ id: 'h', misbehave: misbehave({ rubbishPercent: 100 }) });
    const n = t.start();
    for (const last of [30, 31]) await n.ask({ ask: 'trustHost', address: `${t.at(last)}:8430` });
    await assert.rejects(
      n.ask({ ask: 'hubPair', address: `${t.at(30)}:8430` }),
      (e) => e instanceof FaultError && /no JSON/.test(e.faults[0]!.message),
    );
    await assert.rejects(
      n.ask({ ask: 'hubPair', address: `${t.at(31)}:8430` }),
      (e) => e instanceof FaultError && e.faults[0]!.code === 'DEVICE_AWAY',
    );
  });
  test('a mapped string tells its cells, and rubbish is refused', async () => {
    const t = network();
    const string = new MappedStringDevice(
      { id: 's', name: 'Tree', host: t.at(40), port: 8440, cells: 50, universe: 8, random: t.random },
      t.now,
    );
    await t.stand(string);
    const n = t.start([], {
      simulated: { own: t.at(1), broadcast: t.at(255), serialPaths: [], devices: [`${t.at(40)}:8440`] },
    });
    const answer = await n.ask({ ask: 'stringCells', address: `${t.at(40)}:8440` });
    assert.ok(answer.kind === 'string');
    assert.equal(answer.string.cells.length, 50);
    await n.ask(ask);
    await until('it', () => n.state().devices.some((d) => d.kind === 'mapped-string' && d.count === 50));
    string.order({ id: 's', misbehave: misbehave({ rubbishPercent: 100 }) });
    await assert.rejects(
      n.ask({ ask: 'stringCells', address: `${t.at(40)}:8440` }),
      (e) => e instanceof FaultError && e.faults[0]!.code === 'DEVICE_RUBBISH',
    );
  });
});

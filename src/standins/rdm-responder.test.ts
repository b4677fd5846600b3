import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { decodeDeviceInfo, uint16 } from '../core/protocol/rdm-device.ts';
import {
  ACK,
  BROADCAST,
  decodeRdm,
  DISCOVERY,
  encodeRdm,
  GET,
  NACK,
  PID,
  SET,
  type Uid,
} from '../core/protocol/rdm.ts';
import { RdmLine } from './rdm-line.ts';
import { collide, RdmResponder } from './rdm-responder.ts';

const NOTHING = new Uint8Array(0);
const make = (uid: Uid, over: object = {}): RdmResponder =>
  new RdmResponder({
    uid,
    maker: 'Quillon',
    model: 'Heron',
    label: 'One',
    startAddress: 10,
    personality: 1,
    personalities: [
      { name: 'long', footprint: 16 },
      { name: 'short', footprint: 4 },
    ],
    temperature: 30,
    ...over,
  });
const ask = (to: RdmResponder, commandClass: number, pid: number, data: Uint8Array = NOTHING, uid: Uid = to.uid) =>
  to.handle({ to: uid, from: '7ff0:00000001', transaction: 5, portOrType: 1, subDevice: 0, commandClass, pid, data });

describe('a simulated RDM device', () => {
  test('answers with the transaction and the class of the request plus one', () => {
    const answer = ask(make('7ff1:00000001'), GET, PID.DEVICE_INFO)!;
    assert.deepEqual(
      [answer.to, answer.transaction, answer.commandClass, answer.portOrType],
      ['7ff0:00000001', 5, 0x21, ACK],
    );
    const info = decodeDeviceInfo(answer.data);
    assert.ok(info.ok);
    assert.deepEqual([info.value.footprint, info.value.startAddress, info.value.sensors], [16, 10, 1]);
  });
  test('takes what fits and refuses what does not, with the reason of the standard', () => {
    const device = make('7ff1:00000001');
    assert.equal(ask(device, SET, PID.DMX_START_ADDRESS, uint16(497))!.portOrType, ACK);
    assert.equal(device.startAddress, 497);
    const beyond = ask(device, SET, PID.DMX_START_ADDRESS, uint16(498))!;
    assert.deepEqual([beyond.portOrType, ...beyond.data], [NACK, 0, 6]);
    const odd = ask(device, SET, PID.DMX_START_ADDRESS, Uint8Array.of(1))!;
    assert.deepEqual([odd.portOrType, ...odd.data], [NACK, 0, 1]);
    const unknown = ask(device, GET, 0x7fe0)!;
    assert.deepEqual([unknown.portOrType, ...unknown.data], [NACK, 0, 0]);
    assert.equal(ask(device, SET, PID.DMX_PERSONALITY, Uint8Array.of(2))!.portOrType, ACK);
    assert.equal(device.footprint, 4);
  });
  test('obeys broadcasts without a word', () => {
    const device = make('7ff1:00000001');
    assert.equal(ask(device, SET, PID.IDENTIFY_DEVICE, Uint8Array.of(1), BROADCAST), null);
    assert.equal(device.identifying, true);
    assert.equal(ask(device, SET, PID.IDENTIFY_DEVICE, Uint8Array.of(0), '7ff1:ffffffff'), null);
    assert.equal(device.identifying, false);
    assert.equal(ask(device, SET, PID.IDENTIFY_DEVICE, Uint8Array.of(1), '1111:ffffffff'), null);
    assert.equal(device.identifying, false);
  });
  test('is quiet in discovery while it is muted', () => {
    const device = make('7ff1:00000001');
    assert.ok(device.branch('0000:00000000', 'ffff:fffffffe'));
    assert.equal(device.branch('8000:00000000', 'ffff:fffffffe'), null);
    ask(device, DISCOVERY, PID.DISC_MUTE);
    assert.equal(device.branch('0000:00000000', 'ffff:fffffffe'), null);
    ask(device, DISCOVERY, PID.DISC_UN_MUTE, NOTHING, BROADCAST);
    assert.ok(device.branch('0000:00000000', 'ffff:fffffffe'));
  });
});

describe('the line behind a port', () => {
  test('finds all that hang on it, and carries a message to the one it is for', async () => {
    const line = new RdmLine([make('7ff1:00000001'), make('7ff1:00000002'), make('7ff2:00000001', { faulty: true })]);
    assert.deepEqual(await line.find(), ['7ff1:00000001', '7ff1:00000002', '7ff2:00000001']);
    const request = encodeRdm({
      to: '7ff1:00000002',
      from: '7ff0:00000001',
      transaction: 1,
      portOrType: 1,
      subDevice: 0,
      commandClass: GET,
      pid: PID.DEVICE_INFO,
      data: NOTHING,
    });
    const answer = decodeRdm(line.exchange(request)!);
    assert.ok(answer.ok && answer.value.from === '7ff1:00000002');
    assert.equal(line.exchange(Uint8Array.of(1, 2, 3)), null);
    const spoilt = request.slice();
    spoilt.set([0x7f, 0xf2, 0, 0, 0, 9], 3);
    assert.equal(line.exchange(spoilt), null);
  });
  test('several answers at once are read as one that is spoilt', () => {
    assert.deepEqual(collide([Uint8Array.of(1, 4), Uint8Array.of(2)]), Uint8Array.of(3, 4));
    assert.equal(collide([]), null);
  });
});

import assert from 'node:assert/strict';
import { test } from 'node:test';
import { reachable } from './own-addresses.ts';

const one = (address: string, family: 'IPv4' | 'IPv6', internal: boolean) =>
  ({ address, family, internal, netmask: '', mac: '', cidr: null, scopeid: 0 }) as never;
const interfaces = {
  lo: [one('127.0.0.1', 'IPv4', true)],
  eth0: [one('10.1.2.3', 'IPv4', false), one('fe80::1', 'IPv6', false)],
};

test('a phone is sent where it can get to, and nowhere else', () => {
  assert.deepEqual(reachable('127.0.0.1', '5317', interfaces), []);
  assert.deepEqual(reachable('localhost', '5317', interfaces), []);
  assert.deepEqual(reachable('0.0.0.0', '5317', interfaces), ['http://10.1.2.3:5317']);
  assert.deepEqual(reachable('192.168.7.9', '80', interfaces), ['http://192.168.7.9:80']);
  assert.deepEqual(reachable('fd00::5', '80', interfaces), ['http://[fd00::5]:80']);
});

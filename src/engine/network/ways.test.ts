import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  idleLinks,
  linkFor,
  ownAddressFor,
  parseOwn,
  parseRoutes,
  readWays,
  signatureOf,
  wayTrouble,
  type Link,
  type Ways,
} from './ways.ts';

const TABLE = `Iface	Destination	Gateway 	Flags	RefCnt	Use	Metric	Mask		MTU	Window	IRTT
eth0	00000000	010200C0	0003	0	0	0	00000000	0	0	0
eth0	000200C0	00000000	0001	0	0	0	00FFFFFF	0	0	0
eth1	0000000A	00000000	0001	0	0	0	000000FF	0	0	0
wlan0	000200C0	00000000	0001	0	0	600	00FFFFFF	0	0	0
eth1	000000E0	00000000	0000	0	0	0	000000F0	0	0	0
nonsense
`;
const link = (over: Partial<Link>): Link => ({
  name: 'eth0',
  address: '192.0.2.10',
  netmask: '255.255.255.0',
  internal: false,
  index: 2,
  on: true,
  cable: true,
  ...over,
});
const ways = (...over: Partial<Link>[]): Ways => ({
  links: [
    link({ name: 'lo', address: '127.0.0.1', netmask: '255.0.0.0', internal: true, index: 1 }),
    ...(over.length > 0 ? over : [{}, { name: 'eth1', address: '10.0.0.5', netmask: '255.0.0.0', index: 3 }]).map(link),
  ],
  routes: parseRoutes(TABLE),
});
const way = (host: string, interfaceAddress: string | null = null, multicast = false) => ({
  host,
  interfaceAddress,
  multicast,
});

describe('which way packets leave', () => {
  test('the table is read; switched-off and nonsensical lines are left out', () =>
    assert.deepEqual(
      parseRoutes(TABLE).map((r) => [r.name, r.to.toString(16), r.mask.toString(16), r.metric]),
      [
        ['eth0', '0', '0', 0],
        ['eth0', 'c0000200', 'ffffff00', 0],
        ['eth1', 'a000000', 'ff000000', 0],
        ['wlan0', 'c0000200', 'ffffff00', 600],
      ],
    ));
  for (const [name, to, expected] of [
    ['the longest prefix, then the lowest metric', way('192.0.2.77'), 'eth0'],
    ['another network', way('10.9.9.9'), 'eth1'],
    ['what nothing else takes goes by the default', way('198.51.100.1'), 'eth0'],
    ['multicast goes where it is told', way('239.255.0.1', '10.0.0.5', true), 'eth1'],
    ['else by the default', way('239.255.0.1', null, true), 'eth0'],
  ] as const)
    test(name, () => {
      const found = linkFor(ways(), to);
      assert.equal(found === 'lo' ? 'lo' : found?.name, expected);
    });
  test('the machine itself', () => {
    assert.equal(linkFor(ways(), way('127.3.2.1')), 'lo');
    assert.equal(linkFor(ways(), way('10.0.0.5')), 'lo');
  });
  for (const [name, on, to, expected] of [
    ['all is well', ways(), way('192.0.2.9'), null],
    ['a cable is out', ways({ cable: false }), way('192.0.2.9'), /nothing is at the other end of eth0/],
    ['switched off', ways({ on: false }), way('192.0.2.9'), /eth0 is switched off/],
    ['its own address is gone', ways(), way('192.0.2.9', '192.0.2.99'), /no network interface 192\.0\.2\.99/],
    ['no way', { ...ways(), routes: [] }, way('192.0.2.9'), /no way to 192\.0\.2\.9/],
    ['loopback needs none', { ...ways(), routes: [] }, way('127.5.5.5', '127.0.0.9'), null],
  ] as const)
    test(name, () => {
      const said = wayTrouble(on, to);
      if (expected === null) assert.equal(said, null);
      else assert.match(said ?? '', expected);
    });
  test('the own address that a device is reached from', () => {
    assert.equal(ownAddressFor(ways(), '10.200.3.4'), '10.0.0.5');
    assert.equal(ownAddressFor(ways({}, { address: '192.0.3.7' }), '192.0.2.200'), '192.0.2.10');
    assert.equal(ownAddressFor({ ...ways(), routes: [] }, '10.1.1.1'), null);
  });
  test('a card that is put back under the same name is another', () => {
    assert.notEqual(signatureOf(ways()), signatureOf(ways({ index: 7 })));
    assert.equal(signatureOf(ways()), signatureOf(ways()));
  });
  test('an interface without a cable is found by its address in the kernel’s table', () => {
    const trie = `Main:
  +-- 0.0.0.0/0 3 0 5
        +-- 10.0.0.0/8 2 0 2
           |-- 10.0.0.0
              /8 link UNICAST
           |-- 10.0.0.5
              /32 host LOCAL
           |-- 10.255.255.255
              /32 link BROADCAST
     |-- 127.0.0.1
        /32 host LOCAL
`;
    assert.deepEqual(parseOwn(trie), ['10.0.0.5', '127.0.0.1']);
    const idle = { name: 'eth1', address: '10.0.0.5', netmask: '255.0.0.0', internal: false };
    assert.deepEqual(idleLinks(parseOwn(trie), [], parseRoutes(TABLE)), [idle]);
    assert.deepEqual(idleLinks(parseOwn(trie), [idle], parseRoutes(TABLE)), []);
  });
  test('any text is read without an exception', () =>
    fc.assert(
      fc.property(fc.string(), (text) => Array.isArray(parseRoutes(`head\n${text}`)) && Array.isArray(parseOwn(text))),
    ));
  test('this very machine is read', () => assert.ok(readWays().links.some((l) => l.address === '127.0.0.1')));
});

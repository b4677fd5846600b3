import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { applyNetwork, diffNetwork, wholeNetwork } from './network-diff.ts';
import { EMPTY_NETWORK, type NetworkState } from './network.ts';

const node = (ip: string, over: Partial<NetworkState['nodes'][number]> = {}): NetworkState['nodes'][number] => ({
  ip,
  bindIndex: 1,
  name: 'Node',
  longName: 'Node',
  firmware: 1,
  mac: '',
  rdm: false,
  report: '',
  inputs: [],
  outputs: [],
  state: 'found',
  lastSeenMs: 0,
  ...over,
});
const with_ = (over: Partial<NetworkState>): NetworkState => ({ ...EMPTY_NETWORK, ...over });

describe('what is told of the network', () => {
  test('what changes in place is news, too, where what was told is kept as those have it who were told', () => {
    const device = { uid: '7ff1:0000a101', state: 'reading' };
    const state = with_({ rdm: [device] as never });
    const first = structuredClone(diffNetwork(EMPTY_NETWORK, state));
    const told = applyNetwork(EMPTY_NETWORK, first);
    device.state = 'ready';
    assert.deepEqual(diffNetwork(told, state).put, { rdm: [device] });
  });
  test('a device that is there and was seen again is no news; one that is lost is, with when', () => {
    const before = with_({ nodes: [node('10.0.0.1'), node('10.0.0.2')] });
    const again = with_({ now: 9, nodes: [node('10.0.0.1', { lastSeenMs: 9 }), node('10.0.0.2', { lastSeenMs: 8 })] });
    assert.deepEqual(diffNetwork(before, again), { now: 9 });
    const lost = with_({ now: 20, nodes: [node('10.0.0.1', { state: 'lost', lastSeenMs: 9 }), node('10.0.0.2')] });
    assert.deepEqual(diffNetwork(again, lost).put, { nodes: [lost.nodes[0]] });
  });
  test('what went is told by its key; lists that did not change stay the very same', () => {
    const before = with_({ nodes: [node('10.0.0.1'), node('10.0.0.2')], troubles: ['x'] });
    const after = with_({ nodes: [node('10.0.0.2')], troubles: ['x'] });
    const delta = diffNetwork(before, after);
    assert.deepEqual(delta, { now: 0, gone: { nodes: ['10.0.0.1/1'] } });
    const applied = applyNetwork(before, delta);
    assert.deepEqual(applied, after);
    assert.equal(applied.sources, before.sources);
    assert.equal(applied.nodes[0], before.nodes[1]);
  });
  test('a thousand devices that go on answering cost nothing', () => {
    const nodes = (at: number) =>
      Array.from({ length: 1000 }, (_, i) => node(`10.0.${i >> 8}.${i & 255}`, { lastSeenMs: at }));
    const delta = diffNetwork(with_({ nodes: nodes(0) }), with_({ now: 1, nodes: nodes(1) }));
    assert.ok(JSON.stringify(delta).length < 20);
  });
  test('step by step, everybody ends with the same, but for when what is there was seen', () => {
    const anyNode = fc.record({
      n: fc.integer({ min: 0, max: 6 }),
      name: fc.string({ maxLength: 3 }),
      lost: fc.boolean(),
    });
    const anyState = fc
      .record({
        nodes: fc.uniqueArray(anyNode, { selector: (x) => x.n, maxLength: 7 }),
        troubles: fc.array(fc.string({ maxLength: 4 }), { maxLength: 2 }),
        scanUntil: fc.option(fc.integer(), { nil: null }),
      })
      .map(({ nodes, troubles, scanUntil }) =>
        with_({
          troubles,
          scanUntil,
          nodes: nodes.map(({ n, name, lost }) => node(`10.0.0.${n}`, { name, state: lost ? 'lost' : 'found' })),
        }),
      );
    fc.assert(
      fc.property(fc.array(anyState, { maxLength: 6 }), (states) => {
        let told = EMPTY_NETWORK;
        let before = EMPTY_NETWORK;
        for (const state of states) {
          told = applyNetwork(told, JSON.parse(JSON.stringify(diffNetwork(before, state))));
          before = state;
        }
        const sorted = (s: NetworkState) => ({ ...s, nodes: [...s.nodes].sort((a, b) => (a.ip < b.ip ? -1 : 1)) });
        assert.deepEqual(sorted(told), sorted(before));
        assert.deepEqual(sorted(applyNetwork(EMPTY_NETWORK, wholeNetwork(before))), sorted(before));
      }),
    );
  });
});

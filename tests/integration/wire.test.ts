import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import { make } from '../../src/core/records/index.ts';
import { App, until } from '../support/app.ts';
import { NetnsHost } from '../support/netns.ts';

/** Cables, cards and addresses that come and go, on a real interface, measured at the receiver. */
const now = (): number => performance.timeOrigin + performance.now();
const HEALED_MS = 3000;

describe('on a real cable', () => {
  let app: App;
  let far: NetnsHost | null = null;
  before(async () => {
    far = NetnsHost.make();
    if (!far) return;
    app = await App.start();
    const { id } = await app.openShow();
    const both = [
      make('output', { id: 'output:uni', name: 'To one', protocol: 'sacn', destinations: [far.far] }),
      make('route', { id: 'route:uni', universe: 1, outputId: 'output:uni', wireUniverse: 1 }),
      make('output', {
        id: 'output:multi',
        name: 'To all',
        protocol: 'sacn',
        multicast: true,
        interfaceAddress: far.own,
      }),
      make('route', { id: 'route:multi', universe: 2, outputId: 'output:multi', wireUniverse: 2 }),
    ];
    assert.equal((await app.edit(id, { put: both })).status, 200);
  });
  after(async () => {
    await app?.end();
    far?.end();
  });

  const arrives = (multicast: boolean, since: number): boolean =>
    far!.packets.some((p) => p.multicast === multicast && p.at > since);
  const output = async (id: string) => (await app.health()).engine!.outputs.find((o) => o.id === id)!;
  /** Both streams arrive again, within 3 s of a moment, and their outputs say that all is well. */
  async function healed(since: number, ...which: readonly boolean[]): Promise<void> {
    for (const multicast of which) {
      await until(`${multicast ? 'multicast' : 'unicast'} again`, () => arrives(multicast, since));
      const first = far!.packets.find((p) => p.multicast === multicast && p.at > since)!;
      assert.ok(first.at - since < HEALED_MS, `${multicast ? 'multicast' : 'unicast'} after ${first.at - since} ms`);
    }
    for (const multicast of which)
      await until('no trouble', async () => {
        const { lastError, packetsPerSecond } = await output(multicast ? 'output:multi' : 'output:uni');
        return lastError === null && packetsPerSecond > 20;
      });
  }

  test('both streams arrive', async (t) => {
    if (!far) return t.skip('no network namespace may be made here');
    await healed(now(), false, true);
  });
  test('another address in place of ours: what the system chooses goes on; what was told says what is wrong', async (t) => {
    if (!far) return t.skip();
    const other = `${far.net}.9`;
    far.address(far.own, other);
    await healed(now(), false);
    await until('told', async () => /no network interface/.test((await output('output:multi')).lastError ?? ''), 2);
    far.address(other, far.own);
    await healed(now(), false, true);
  });
  test('a cable that is out is told within 2 s, and nothing is counted as sent; it heals', async (t) => {
    if (!far) return t.skip();
    far.cable('out');
    const out = now();
    const ids = ['output:uni', 'output:multi'];
    for (const id of ids)
      await until('told', async () => /packets do not leave.*cable/.test((await output(id)).lastError ?? ''), 2);
    assert.ok(now() - out < 2000, `after ${Math.round(now() - out)} ms`);
    for (const id of ids) {
      await until('none counted', async () => (await output(id)).packetsPerSecond === 0, 4);
      assert.ok((await output(id)).errors > 0);
    }
    far.cable('in');
    await healed(now(), false, true);
  });
  test('a card that is pulled out and put back', async (t) => {
    if (!far) return t.skip();
    far.pullOut();
    await until('told', async () => /no network interface/.test((await output('output:multi')).lastError ?? ''));
    far.plugIn();
    await healed(now(), false, true);
  });
});

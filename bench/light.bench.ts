import { make } from '../src/core/records/index.ts';
import { App, hearSacn, until } from '../tests/support/app.ts';
import { wait } from '../scripts/lib.mjs';
import { quantileOf, report } from './measure.ts';

/** From what somebody does to the first packet that carries it: a level by hand, and an edit of a scene that plays. */
const EAR = '127.202.0.11';
const ROUNDS = 120;

const app = await App.start();
const ear = await hearSacn(EAR, 5568);
try {
  const { id, records } = await app.openShow();
  await app.edit(id, {
    put: [
      make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] }),
      make('route', { id: 'route:ear3', universe: 3, outputId: 'output:ear', wireUniverse: 3 }),
    ],
  });
  await until('packets', () => Promise.resolve(ear.packets.length > 10));
  const heard = async (value: number, since: number): Promise<number> => {
    const packet = await until('the value', () =>
      Promise.resolve(ear.packets.slice(since).find((p) => p.slots[0] === value)),
    );
    return packet.at;
  };
  const now = (): number => performance.timeOrigin + performance.now();
  const measure = async (name: string, act: (level: number) => Promise<unknown>): Promise<void> => {
    const times: number[] = [];
    for (let i = 0; i < ROUNDS; i++) {
      const value = 20 + (i % 200);
      const since = ear.packets.length;
      const from = now();
      await act(value / 255);
      times.push((await heard(value, since)) - from);
      await wait(20 + (i % 7) * 5);
    }
    report(`${name}, p50`, quantileOf(times, 0.5), 'ms');
    report(`${name}, p95`, quantileOf(times, 0.95), 'ms');
  };
  await measure('a level by hand, from the call to the packet', (level) =>
    app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: level } } }),
  );
  await app.command({ do: 'letGo' });
  await app.command({ do: 'play', target: 'scene:doors', fadeInMs: 0 });
  const scene = records.find((r) => r.id === 'scene:doors')!;
  await measure('an edit of a scene that plays, from the call to the packet', (level) =>
    app.edit(id, { put: [{ ...scene, values: { 'unit:hire': { Dimmer: level } } } as never] }, { label: 'Bench' }),
  );
} finally {
  ear.close();
  await app.end();
}

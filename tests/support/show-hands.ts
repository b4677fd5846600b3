import type { Locator, Page } from 'playwright-core';
import type { AnyRecord } from '../../src/core/records/index.ts';
import type { LiveState } from '../../src/core/show/index.ts';
import { until } from './app.ts';
import type { Stage } from './browser.ts';

/** What a person does while a show runs, and what the engine says of it. */
export function showHands(stage: () => Stage, page: () => Page) {
  const live = (): Promise<LiveState> => stage().app.live();
  return {
    live,
    /** 512 slots of a universe as they are sent. */
    slots: (universe: number): Promise<number[]> => stage().app.slots(universe),
    record: async (kind: AnyRecord['kind'], name: string): Promise<AnyRecord | undefined> =>
      (await stage().app.openShow()).records.find((r) => r.kind === kind && 'name' in r && r.name === name),
    /** A step of the mast. */
    step: (name: string): Locator => page().getByRole('navigation', { name: 'Steps' }).getByRole('link', { name }),
    /** The list of scenes, chases, effects and palettes. */
    library: (): Locator => page().getByRole('navigation', { name: 'Scenes and chases' }),
    async letGo(): Promise<void> {
      await stage().app.command({ do: 'letGo' });
      await stage().app.command({ do: 'releaseAll', fadeOutMs: 0 });
      await until(
        'all let go',
        async () => (await live()).playing.length === 0 && (await live()).handEffects.length === 0,
      );
    },
  };
}

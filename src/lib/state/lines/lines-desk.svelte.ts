import type { UnitId } from '$core/ids.ts';
import { signalPath, type SignalPath } from '$core/lines/index.ts';
import type { App } from '../app.svelte.ts';
import { Opened } from '../opened.svelte.ts';

export const LINES_TABS = [
  ['path', 'Path'],
  ['outputs', 'Outputs'],
  ['devices', 'Devices'],
  ['cables', 'Cables'],
  ['monitor', 'Monitor'],
  ['test', 'Test'],
  ['faders', 'Faders'],
  ['rdm', 'RDM'],
  ['inputs', 'Desk in'],
  ['standins', 'Stand-ins'],
] as const;
export type LinesTab = (typeof LINES_TABS)[number][0];

/** What the Lines step shares between its views: the tab, what is chosen in each, the signal path. */
export class LinesDesk {
  readonly #app: App;
  /** Key of the chosen link of the path. */
  link = $state<string | null>(null);
  uid = $state<string | null>(null);
  /** Universe and slot (1-512) the monitor stands at. */
  universe = $state<number | null>(null);
  slot = $state(1);
  /** What a test is put on, as chosen in the test view. */
  testUnits = $state.raw<readonly UnitId[]>([]);

  constructor(app: App) {
    this.#app = app;
  }

  readonly #opened = new Opened('tab', () => LINES_TABS.map(([id, name]) => ({ id, name })));
  readonly output = new Opened(
    'output',
    () => this.#app.rig.outputs,
    () => this.tab === 'outputs',
  );
  readonly line = new Opened(
    'line',
    () => this.#app.rig.lines,
    () => this.tab === 'cables',
  );
  readonly input = new Opened(
    'desk',
    () => this.#app.rig.inputs,
    () => this.tab === 'inputs',
  );
  readonly tab: LinesTab = $derived.by(() => (this.#opened.record?.id as LinesTab | undefined) ?? 'path');

  /** Opens a tab. */
  open(tab: LinesTab): void {
    this.#opened.open(tab);
  }

  readonly path: SignalPath = $derived.by(() => {
    const { document, live, network, system } = this.#app.live;
    return signalPath({
      document,
      live,
      engine: system.engine,
      network,
      standins: system.standins,
      now: network.now,
    });
  });

  readonly chosenRdm = $derived.by(() => this.#app.live.network.rdm.find((d) => d.uid === this.uid) ?? null);
}

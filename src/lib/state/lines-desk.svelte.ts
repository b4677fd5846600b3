import type { LineId, UnitId } from '$core/ids.ts';
import { signalPath, type SignalPath } from '$core/lines/index.ts';
import type { App } from './app.svelte.ts';

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

const KEPT_TAB = 'amber-lines-tab';
const isTab = (text: string | null): text is LinesTab => LINES_TABS.some(([tab]) => tab === text);

/** What the Lines step shares between its views: the tab, what is chosen in each, the signal path. */
export class LinesDesk {
  readonly #app: App;
  #tab = $state<LinesTab>('path');
  /** Key of the chosen link of the path. */
  link = $state<string | null>(null);
  line = $state<LineId | null>(null);
  uid = $state<string | null>(null);
  input = $state<string | null>(null);
  /** Universe and slot (1-512) the monitor stands at. */
  universe = $state<number | null>(null);
  slot = $state(1);
  /** What a test is put on, as chosen in the test view. */
  testUnits = $state.raw<readonly UnitId[]>([]);

  constructor(app: App) {
    this.#app = app;
    const kept = sessionStorage.getItem(KEPT_TAB);
    if (isTab(kept)) this.#tab = kept;
  }

  /** Opens a tab by its name; an unknown name changes nothing. */
  open(wanted: string | null): void {
    if (isTab(wanted)) this.tab = wanted;
  }

  get tab(): LinesTab {
    return this.#tab;
  }
  set tab(tab: LinesTab) {
    this.#tab = tab;
    sessionStorage.setItem(KEPT_TAB, tab);
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

  readonly chosenLine = $derived.by(
    () => this.#app.rig.lines.find((l) => l.id === this.line) ?? this.#app.rig.lines[0] ?? null,
  );
  readonly chosenRdm = $derived.by(() => this.#app.live.network.rdm.find((d) => d.uid === this.uid) ?? null);
  readonly chosenInput = $derived.by(
    () => this.#app.rig.inputs.find((i) => i.id === this.input) ?? this.#app.rig.inputs[0] ?? null,
  );
}

import type { Standin, StandinOrder } from '../core/protocol/standin.ts';

/** A simulated device: starts, says what it is and gets, and does what it is told. */
export interface StandinDevice {
  readonly id: string;
  start(): Promise<void>;
  report(): Standin;
  /** What it does not understand it leaves. */
  order(order: StandinOrder): void;
  close(): void;
}

/** A report with nothing in it yet. */
export const blankReport = (of: Pick<Standin, 'id' | 'kind' | 'name' | 'address' | 'misbehaviour'>): Standin => ({
  ...of,
  refused: 0,
  elsewhere: 0,
  polls: 0,
  syncs: 0,
  ports: [],
  lamps: [],
  buttonUntilMs: null,
  sends: null,
});

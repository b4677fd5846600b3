import type { z } from 'zod';
import { isPlain } from '../../document/change.ts';
import { faultsFromZod, type Fault } from '../../faults.ts';
import { readStored, type Reading } from '../../records/versions.ts';
import { initialLive, liveStateSchema, type LiveState } from './state.ts';

/** What can be read of a stored live state, and the faults of what cannot. */
export interface StoredState {
  readonly state: LiveState;
  readonly faults: readonly Fault[];
}

type Raw = Record<string, unknown>;

/** Before version 7 a tempo was one straight line, and what faded out was not kept. */
function upgradedState(raw: Raw, records: number): Raw {
  const { tempo } = raw;
  if (records >= 7 || !isPlain(tempo) || !('anchorMs' in tempo)) return raw;
  const { bpm, anchorMs: ms, anchorBeat: beat } = tempo;
  return { ...raw, tempo: { bpm, points: [{ ms, beat }] } };
}

/**
 * A live state of any version. What is not sound is left out by itself, and told: a play that cannot be read takes
 * nothing else along. `records` is the version of the records it holds.
 */
export function readStoredState(raw: unknown, records: number, nowMs: number, reading: Reading = {}): StoredState {
  const given = isPlain(raw) ? upgradedState(raw, records) : {};
  const held = readStored(Array.isArray(given['held']) ? given['held'] : [], records, reading);
  const whole = liveStateSchema.safeParse({ ...given, held: held.records });
  if (whole.success && isPlain(raw)) return { state: whole.data, faults: held.faults };
  const faults = [...held.faults];
  if (!isPlain(raw)) faults.push(unsound('live', raw));
  const state: Raw = { ...initialLive(nowMs), held: held.records };
  for (const [key, schema] of Object.entries(liveStateSchema.shape as Record<string, z.ZodType>)) {
    if (key === 'held' || !(key in given)) continue;
    const value = given[key];
    const parsed = schema.safeParse(value);
    if (parsed.success) state[key] = parsed.data;
    else {
      const { sound, wrong } = soundPart(schema, value);
      if (sound !== undefined) state[key] = sound;
      faults.push(...(wrong ?? faultsFromZod(parsed.error, value, `live.${key}`)).map((f) => within(f, key)));
    }
  }
  const left = liveStateSchema.safeParse(state);
  return { state: left.success ? left.data : initialLive(nowMs), faults };
}

const within = (fault: Fault, key: string): Fault =>
  fault.path.startsWith(`live.${key}`) ? fault : { ...fault, path: `live.${key}.${fault.path}` };

const unsound = (path: string, received: unknown): Fault => ({
  code: 'BAD_VALUE',
  path,
  message: 'cannot be read',
  received,
  remedy: 'Play it again.',
});

/** The items of a list, or the entries of a table, that are sound one by one. */
function soundPart(schema: z.ZodType, value: unknown): { sound?: unknown; wrong?: Fault[] } {
  const wrong: Fault[] = [];
  if (Array.isArray(value)) {
    const sound = value.filter(
      (item, i) => schema.safeParse([item]).success || (wrong.push(unsound(String(i), item)), false),
    );
    return { sound, wrong };
  }
  if (!isPlain(value)) return {};
  const sound = Object.fromEntries(
    Object.entries(value).filter(
      ([key, item]) => schema.safeParse({ [key]: item }).success || (wrong.push(unsound(key, item)), false),
    ),
  );
  return schema.safeParse(sound).success ? { sound, wrong } : {};
}

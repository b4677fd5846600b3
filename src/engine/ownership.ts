import type { Document } from '../core/document/change.ts';
import { FaultError, type Fault } from '../core/faults.ts';
import { readRanges } from '../core/numbers.ts';
import type { AnyRecord } from '../core/records/index.ts';

/**
 * What of a show this engine sends: several engines can share the universes of one show, or one can stand by at a lower
 * priority.
 */
export interface Ownership {
  /** Universes of the show; null for all. */
  readonly universes: ReadonlySet<number> | null;
  /** sACN priority (0-200) of everything it sends, in place of what the outputs say; null for theirs. */
  readonly priority: number | null;
}

const ALL: Ownership = { universes: null, priority: null };
const LAST_UNIVERSE = 63_999;

const wrong = (path: string, message: string, received: string, remedy: string): Fault => ({
  code: 'BAD_OPTION',
  path,
  message,
  received,
  remedy,
});

/** Reads `AMBER_ENGINE_UNIVERSES` (such as `1-64, 70`) and `AMBER_ENGINE_PRIORITY`. Throws FaultError. */
export function ownershipFrom(env: Readonly<Record<string, string | undefined>>): Ownership {
  const [universes, priority] = [env['AMBER_ENGINE_UNIVERSES']?.trim(), env['AMBER_ENGINE_PRIORITY']?.trim()];
  if (!universes && !priority) return ALL;
  return { universes: universes ? universesIn(universes) : null, priority: priority ? priorityIn(priority) : null };
}

function universesIn(text: string): ReadonlySet<number> {
  const { numbers, wrong: part } = readRanges(text, 1, LAST_UNIVERSE);
  if (part !== null)
    throw new FaultError(
      wrong(
        'AMBER_ENGINE_UNIVERSES',
        `“${part.trim()}” is no universe`,
        text,
        'Write for example 1-64 or 1,2,7 (1-63999).',
      ),
    );
  return numbers;
}

function priorityIn(text: string): number {
  const priority = /^\d{1,3}$/.test(text) ? Number(text) : NaN;
  if (!(priority <= 200))
    throw new FaultError(
      wrong(
        'AMBER_ENGINE_PRIORITY',
        'is no sACN priority',
        text,
        'Write a whole number from 0 to 200 (ANSI E1.31 6.2.3).',
      ),
    );
  return priority;
}

/** The show as this engine sends it: routes of its own universes, outputs at its own priority. */
export function owned(document: Document, { universes, priority }: Ownership): Document {
  if (!universes && priority === null) return document;
  const view = new Map<AnyRecord['id'], AnyRecord>();
  for (const [id, record] of document) {
    if (record.kind === 'route' && universes && !universes.has(record.universe)) continue;
    view.set(id, record.kind === 'output' && priority !== null ? { ...record, priority } : record);
  }
  return view;
}

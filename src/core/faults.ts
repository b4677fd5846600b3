/**
 * Expected failures as data. A fault names what is wrong (`code`), where (`path`), what was there (`received`)
 * and how to put it right (`remedy`). Bugs are ordinary errors and are never turned into faults.
 */
export interface Fault {
  readonly code: string;
  readonly message: string;
  /** Where: record id and key path, file and member, or row and column. */
  readonly path: string;
  readonly received?: unknown;
  readonly remedy: string;
}

const BRAND = Symbol.for('amber-kite.FaultError');

/** Thrown at a boundary when input cannot be used; carries every fault found. */
export class FaultError extends Error {
  readonly [BRAND] = true;
  readonly faults: readonly Fault[];

  /** Known by its brand: the routes and the server are bundled apart and each has its own copy of this class. */
  static override [Symbol.hasInstance](value: unknown): boolean {
    return typeof value === 'object' && value !== null && BRAND in value;
  }

  constructor(faults: Fault | readonly Fault[]) {
    const list = Array.isArray(faults) ? (faults as readonly Fault[]) : [faults as Fault];
    super(list.map((f) => `${f.code} at ${f.path || '(top)'}: ${f.message}`).join('; '));
    this.name = 'FaultError';
    this.faults = list;
  }
}

/** Result of something that is expected to fail on bad input. */
export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly fault: Fault };

export const good = <T>(value: T): Result<T> => ({ ok: true, value });
export const bad = (fault: Fault): Result<never> => ({ ok: false, fault });

const RECEIVED_LIMIT = 120;

/** Shortens what was received so that a fault never carries a whole hostile file. */
export function shorten(received: unknown): unknown {
  if (typeof received === 'string')
    return received.length > RECEIVED_LIMIT
      ? `${received.slice(0, RECEIVED_LIMIT)}… (${received.length} characters)`
      : received;
  if (typeof received === 'number') return Number.isFinite(received) ? received : String(received);
  if (received === null || typeof received !== 'object') return received;
  const text = preview(received, 0);
  return text.length > RECEIVED_LIMIT || text.includes('…') ? `${text.slice(0, RECEIVED_LIMIT)}…` : received;
}

const PREVIEW_DEPTH = 3;
const PREVIEW_ITEMS = 8;

/** The beginning of a value as JSON; never deep, so that hostile nesting cannot overflow the stack. */
function preview(value: unknown, depth: number): string {
  if (typeof value === 'string') return JSON.stringify(value.slice(0, RECEIVED_LIMIT));
  if (value === null || typeof value !== 'object') return String(value);
  if (depth >= PREVIEW_DEPTH) return '…';
  const list = Array.isArray(value);
  const keys = Object.keys(value);
  const shown = keys.slice(0, PREVIEW_ITEMS).map((key) => {
    const part = preview((value as Record<string, unknown>)[key], depth + 1);
    return list ? part : `${JSON.stringify(key.slice(0, RECEIVED_LIMIT))}:${part}`;
  });
  if (keys.length > PREVIEW_ITEMS) shown.push('…');
  return list ? `[${shown.join(',')}]` : `{${shown.join(',')}}`;
}

/** A bug on our side, as the person sees it; the details are in the log. */
export const internalFault = (path = ''): Fault => ({
  code: 'INTERNAL',
  path,
  message: 'something went wrong inside Amber Kite',
  remedy: 'Nothing was changed. Try again; the log has the details.',
});

interface ZodIssueLike {
  readonly code?: string;
  readonly message: string;
  readonly path: readonly PropertyKey[];
  readonly keys?: readonly string[];
}

/** Zod's issues as faults: the key path is kept, the value found there is shown, the remedy says what is allowed. */
export function faultsFromZod(error: { readonly issues: readonly ZodIssueLike[] }, input: unknown, at = ''): Fault[] {
  return error.issues.map((issue) => {
    const path = [at, ...issue.path.map(String)].filter((p) => p !== '').join('.');
    const unknownKeys = issue.code === 'unrecognized_keys';
    return {
      code: unknownKeys ? 'UNKNOWN_KEY' : 'BAD_VALUE',
      message: issue.message,
      path,
      received: shorten(unknownKeys ? issue.keys : valueAt(input, issue.path)),
      remedy: unknownKeys ? 'Leave the unknown keys out.' : 'Give a value as described in the message.',
    };
  });
}

function valueAt(input: unknown, path: readonly PropertyKey[]): unknown {
  let value: unknown = input;
  for (const key of path) {
    if (value === null || typeof value !== 'object') return undefined;
    value = (value as Record<PropertyKey, unknown>)[key];
  }
  return value;
}

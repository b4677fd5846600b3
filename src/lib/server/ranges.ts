import { FaultError } from '../../core/faults.ts';
import type { Stretch } from '../../db/blob-folder.ts';

/**
 * The stretch of bytes a request asks for (RFC 9110, 14.2), both ends counted in; null for all of it, which is also the
 * answer to several stretches and to what is not understood; `outside` where there are no such bytes.
 */
export function rangeOf(header: string | null, size: number): readonly [number, number] | null | 'outside' {
  const found = /^bytes=(\d{0,15})-(\d{0,15})$/.exec(header?.trim() ?? '');
  if (!found || (found[1] === '' && found[2] === '')) return null;
  const [first, last] = [found[1]!, found[2]!];
  if (first === '') {
    const length = Math.min(Number(last), size);
    return length === 0 ? 'outside' : [size - length, size - 1];
  }
  const start = Number(first);
  if (last !== '' && Number(last) < start) return null;
  return start >= size ? 'outside' : [start, last === '' ? size - 1 : Math.min(Number(last), size - 1)];
}

/** Which stretch of a file a request brings: as Content-Range says, else all of it. Throws FaultError (BAD_RANGE). */
export function contentRange(range: string | null, length: string | null): Stretch {
  if (range === null && length !== null && /^\d{1,15}$/.test(length)) return { from: 0, total: Number(length) };
  const found = /^bytes (\d{1,15})-(\d{1,15})\/(\d{1,15})$/.exec(range?.trim() ?? '');
  if (found) {
    const [from, to, total] = found.slice(1).map(Number) as [number, number, number];
    if (from <= to && to < total) return { from, total };
  }
  throw new FaultError({
    code: 'BAD_RANGE',
    path: 'content-range',
    message: 'it is not said which bytes of the file come',
    received: range,
    remedy: 'Send Content-Range: bytes FIRST-LAST/TOTAL, or the whole file with Content-Length.',
  });
}

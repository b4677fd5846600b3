import type { Fault } from '$core/faults.ts';

export interface ShowLine {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly changedAt: string;
  readonly open: boolean;
}

/** Calls a route; a refusal becomes an Error whose message is the fault and its remedy in words. */
async function call<T>(path: string, init?: RequestInit): Promise<T> {
  const answer = await fetch(path, init);
  const body = (await answer.json()) as unknown;
  if (!answer.ok) {
    const { message, path: at, remedy } = body as Fault;
    throw new Error(`${message}${at ? ` (${at})` : ''}. ${remedy}`);
  }
  return body as T;
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

export const listShows = async (): Promise<ShowLine[]> => (await call<{ shows: ShowLine[] }>('/api/shows')).shows;
/** The shows that come with the program. */
export const DEMO_SHOWS: readonly string[] = ['show:copperline', 'show:millpond'];

export const createShow = async (name: string): Promise<string> =>
  (await call<{ id: string }>('/api/shows', json('POST', { name }))).id;
export const openShow = (id: string): Promise<unknown> =>
  call(`/api/shows/${encodeURIComponent(id)}/open`, { method: 'POST' });
export const deleteShow = (id: string): Promise<unknown> =>
  call(`/api/shows/${encodeURIComponent(id)}`, { method: 'DELETE' });
export const importShow = async (file: File): Promise<string> =>
  (
    await call<{ id: string }>('/api/shows/import', {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: file,
    })
  ).id;

export interface HistoryLine {
  readonly revision: number;
  readonly at: string;
  readonly author: string;
  readonly action: 'edit' | 'undo' | 'redo';
  readonly label: string;
  /** What it changed is still kept, so that it can be taken back. */
  readonly kept: boolean;
}
/** Lines of a history, how many of them can be taken back, and bytes on the disk. */
export interface HistorySize {
  readonly lines: number;
  readonly kept: number;
  readonly bytes: number;
}
export interface History {
  readonly lines: readonly HistoryLine[];
  readonly size: HistorySize;
}
export const history = (id: string): Promise<History> => call<History>(`/api/shows/${encodeURIComponent(id)}/history`);

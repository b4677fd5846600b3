import { sameJson } from '../document/change.ts';
import { EMPTY_NETWORK, type NetworkState } from './network.ts';

/** What tells the items of each list apart. */
const KEYS = {
  nodes: (n: NetworkState['nodes'][number]) => `${n.ip}/${n.bindIndex}`,
  sources: (s: NetworkState['sources'][number]) => `${s.protocol} ${s.id}`,
  ports: (p: NetworkState['ports'][number]) => p.path,
  rdm: (d: NetworkState['rdm'][number]) => d.uid,
  devices: (d: NetworkState['devices'][number]) => d.address,
  inputs: (i: NetworkState['inputs'][number]) => `${i.inputId} ${i.wireUniverse} ${i.universe}`,
} as const;
type Listed = keyof typeof KEYS;
const LISTS = Object.keys(KEYS) as Listed[];
type Item<L extends Listed> = NetworkState[L][number];
const keyOf = <L extends Listed>(list: L, item: Item<L>): string => (KEYS[list] as (item: Item<L>) => string)(item);

/** Sent whole where they changed, or always: they are small. */
const WHOLE = ['interfaces', 'trusted', 'troubles', 'scanUntil', 'refused', 'ignored'] as const;

/** What changed of the network since it was told last: items put and keys that went, by list. */
export type NetworkDelta = { readonly now: number } & Partial<Pick<NetworkState, (typeof WHOLE)[number]>> & {
    readonly put?: { readonly [L in Listed]?: NetworkState[L] };
    readonly gone?: { readonly [L in Listed]?: readonly string[] };
  };

/** What is there is seen all the time: when it was seen last is news only once it is lost. */
function isNews(before: object | undefined, after: object): boolean {
  if (!before) return true;
  if (!('lastSeenMs' in before && 'lastSeenMs' in after)) return !sameJson(before, after);
  const steady =
    'state' in after ? after.state !== 'lost' : !('packetsPerSecond' in after) || after.packetsPerSecond !== 0;
  const alike = steady ? { ...before, lastSeenMs: after.lastSeenMs } : before;
  return !sameJson(alike, after);
}

export function diffNetwork(before: NetworkState, after: NetworkState): NetworkDelta {
  const put: Record<string, unknown> = {};
  const gone: Record<string, string[]> = {};
  for (const list of LISTS) {
    const known = new Map<string, object>();
    for (const item of before[list]) known.set(keyOf(list, item as never), item);
    const changed: unknown[] = [];
    for (const item of after[list]) {
      const key = keyOf(list, item as never);
      if (isNews(known.get(key), item)) changed.push(item);
      known.delete(key);
    }
    if (changed.length > 0) put[list] = changed;
    if (known.size > 0) gone[list] = [...known.keys()];
  }
  const whole = Object.fromEntries(
    WHOLE.filter((key) => !sameJson(before[key], after[key])).map((key) => [key, after[key]]),
  );
  return {
    now: after.now,
    ...whole,
    ...(Object.keys(put).length > 0 ? { put } : {}),
    ...(Object.keys(gone).length > 0 ? { gone } : {}),
  };
}

/** The network with what changed; lists and items that did not change stay the very same. */
export function applyNetwork(before: NetworkState, { put = {}, gone = {}, ...rest }: NetworkDelta): NetworkState {
  const lists: Partial<Record<Listed, readonly unknown[]>> = {};
  for (const list of LISTS) {
    if (!put[list] && !gone[list]) continue;
    const next = new Map<string, unknown>(before[list].map((item) => [keyOf(list, item as never), item]));
    for (const key of gone[list] ?? []) next.delete(key);
    for (const item of put[list] ?? []) next.set(keyOf(list, item as never), item);
    lists[list] = [...next.values()];
  }
  return { ...before, ...rest, ...lists } as NetworkState;
}

/** All of it, for somebody who knows nothing yet: to be applied to `EMPTY_NETWORK`. */
export const wholeNetwork = (state: NetworkState): NetworkDelta => diffNetwork(EMPTY_NETWORK, state);

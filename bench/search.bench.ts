import { builtInProfiles } from '../src/core/profile/library.ts';
import { indexProfiles, searchProfiles } from '../src/core/profile/search.ts';
import { quantileOf, report, timed } from './measure.ts';

/** Type-ahead in a library of 20,000 profiles: every letter of some queries is a search. */
const base = builtInProfiles();
const library = Array.from({ length: 20_000 }, (_, i) => {
  const profile = base[i % base.length]!;
  return {
    ...profile,
    id: `profile:x${i}` as const,
    model: `${profile.model} ${i}`,
    maker: `${profile.maker} ${i % 500}`,
  };
});
const start = performance.now();
const index = indexProfiles(library, (kind) => kind);
report('index 20,000 profiles', performance.now() - start, 'ms');
const queries = ['14 ch spot zoom', 'fernlight 12 par red', 'heron 19', 'strobe', 'a', '8ch'].flatMap((q) =>
  Array.from(q, (_, i) => q.slice(0, i + 1)),
);
const times = queries.flatMap((q) => timed(20, () => void searchProfiles(index, q)));
report('search 20,000 profiles, median of every keystroke', quantileOf(times, 0.5), 'ms');
report('search 20,000 profiles, p99 of every keystroke', quantileOf(times, 0.99), 'ms');

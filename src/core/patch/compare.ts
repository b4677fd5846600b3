import { layoutOf } from './of-document.ts';
import type { ProfileRecord } from '../records/index.ts';
import { attributeInfo, COLOUR_ATTRIBUTES } from '../attributes.ts';

/** What one mode has of an attribute. */
export interface ModeCell {
  /** Bits of the finest channel; 0 for virtual ones. */
  readonly bits: number;
  /** 0 for the whole unit, else how many cells have it. */
  readonly cells: number;
}

export interface CompareRow {
  readonly key: string;
  readonly words: string;
  /** By mode, in the order of `modes`; null where the mode does not have it. */
  readonly modes: readonly (ModeCell | null)[];
  /** True when the modes differ in it. */
  readonly differs: boolean;
}

export interface ModeColumn {
  readonly key: string;
  readonly name: string;
  readonly footprint: number;
  /** What it has that the next smaller mode has not, in words. */
  readonly adds: readonly string[];
  /** What the next smaller mode has and it has not. */
  readonly lacks: readonly string[];
}

/** Modes side by side, smallest footprint first: what each has, and what it adds to the one before. */
export function compareModes(profile: ProfileRecord): { modes: ModeColumn[]; rows: CompareRow[] } {
  const modes = profile.modes
    .map((mode) => ({ mode, layout: layoutOf(profile, mode.key) }))
    .sort((a, b) => a.layout.footprint - b.layout.footprint);
  const found = new Map<string, { words: string; modes: (ModeCell | null)[] }>();
  modes.forEach(({ layout }, place) => {
    for (const item of layout.programmable) {
      const colour = (COLOUR_ATTRIBUTES as readonly string[]).includes(item.attribute);
      const key = `${colour ? 'Colour' : item.attribute}${item.cells > 0 ? '/cells' : ''}`;
      const words = colour
        ? 'Colour mixing'
        : (item.channel?.name ?? attributeInfo(item.attribute)?.words ?? item.attribute);
      let row = found.get(key);
      if (!row)
        found.set(key, (row = { words: item.cells > 0 ? `${words}, each cell` : words, modes: modes.map(() => null) }));
      const laid = layout.channels.filter(
        (c) => c.channel === item.channel || (colour && /^Color(Add|Sub)/.test(c.channel.attribute)),
      );
      const bits = item.channel || colour ? Math.max(8, ...laid.map((c) => c.offsets.length * 8)) : 0;
      const known = row.modes[place];
      row.modes[place] = { bits: Math.max(bits, known?.bits ?? 0), cells: Math.max(item.cells, known?.cells ?? 0) };
    }
  });
  const rows = [...found].map(([key, { words, modes: cells }]) => ({
    key,
    words,
    modes: cells,
    differs: cells.some((c) => c?.bits !== cells[0]?.bits || c?.cells !== cells[0]?.cells),
  }));
  return {
    rows,
    modes: modes.map(({ mode, layout }, place) => ({
      key: mode.key,
      name: mode.name,
      footprint: layout.footprint,
      ...(place === 0 ? { adds: [], lacks: [] } : changes(rows, place)),
    })),
  };
}

function changes(rows: readonly CompareRow[], place: number): { adds: string[]; lacks: string[] } {
  const adds: string[] = [];
  const lacks: string[] = [];
  const has = (key: string): boolean => rows.some((r) => r.key === key && r.modes[place]);
  for (const { key, words, modes } of rows) {
    const [before, now] = [modes[place - 1], modes[place]];
    if (now && !before) adds.push(words);
    // What every cell has now is not lacking for the whole.
    else if (before && !now) {
      if (!has(`${key}/cells`)) lacks.push(words);
    } else if (now && before && now.bits > before.bits && before.bits > 0) adds.push(`${words} in ${now.bits} bit`);
    else if (now && before && now.cells > before.cells && before.cells > 0)
      adds.push(`${words}: ${now.cells} instead of ${before.cells}`);
  }
  return { adds, lacks };
}

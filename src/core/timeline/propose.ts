import { ideasFor } from '../auto/own.ts';
import { planSong, troupeOf, type Asked, type Phrase, type Troupe } from '../auto/plan.ts';
import { playsOf } from '../auto/plays.ts';
import { recordsOf, type Document } from '../document/change.ts';
import type { GroupId, LaneId, LitId } from '../ids.ts';
import { nextNumber } from '../naming.ts';
import { membersOf, reached } from '../patch/groups.ts';
import { make, type AnyRecord, type GroupRecord } from '../records/index.ts';
import type { ReachId } from '../records/effect.ts';
import type { BlockPlays } from '../records/lane.ts';
import type { SongRecord } from '../records/song.ts';
import { ROLE_WORDS, type PlayedRole } from '../records/variant.ts';
import type { Play } from '../show/live/state.ts';
import { kept } from '../song/grid.ts';
import { blockOf, keysFor, joined } from './blocks.ts';
import { lanesOf } from './light.ts';
import { OpenLanes } from './open-lanes.ts';
import type { Stretch } from './passages.ts';

/** What Auto would play in a stretch of a song, as blocks that can be edited. */

export interface Proposing {
  readonly asked: Asked;
  readonly newLane: () => LaneId;
  readonly newGroup: () => GroupId;
}

/** Lanes with the blocks of a proposal for a stretch, and the groups they need that there are not: what to put. */
export function proposed(
  document: Document,
  song: SongRecord,
  stretch: Stretch,
  { asked, newLane, newGroup }: Proposing,
): AnyRecord[] {
  const troupe = troupeOf(document, asked);
  const groups: GroupRecord[] = [];
  const open = new OpenLanes(song.id, lanesOf(document, song.id), newLane);
  const added = new Map<LaneId, Set<string>>();
  for (const phrase of planSong(troupe, song)) {
    const [from, to] = [Math.max(phrase.from, stretch.from), Math.min(phrase.to, stretch.to)];
    if (to - from < 0.05) continue;
    for (const play of playsOf(phrase, troupe, phrase.from * 1000, phrase.fromBeat)) {
      const [, n, role, what] = play.id.split(' ') as [string, string, PlayedRole | 'all', string];
      const plays = playing(play, nameOf(document, phrase, troupe, Number(n), role));
      if (!plays) continue;
      const on = play.on === null ? null : bound(document, groups, play.on as LitId[], role, newGroup);
      const lane = open.on(on);
      const key = keysFor(lane.blocks)();
      const length = kept(to - from);
      // A fade that began before the stretch is over in it.
      const fadeIn = from > phrase.from ? 0 : Math.min(phrase.fade, length);
      // What it does lies over what its mood says of special channels.
      const layer = what === 'mood' ? 0 : 1;
      const block = blockOf({ key, at: kept(from), length, plays, layer, fadeIn: kept(fadeIn) });
      open.put({ ...lane, blocks: [...lane.blocks, block] });
      added.set(lane.id, (added.get(lane.id) ?? new Set()).add(key));
    }
  }
  // What goes on from one phrase to the next is one block.
  const whole = open.changed.map((lane) => ({ ...lane, blocks: joined(lane.blocks, added.get(lane.id)!) }));
  return [...groups, ...whole];
}

/** What a play of Auto comes to in a block. */
const playing = ({ target, spec }: Play, name: string): BlockPlays | null =>
  target ? { is: 'play', target } : spec ? { is: 'effect', name, spec } : null;

/** What a play of Auto is called: the idea that its role has in its place. */
function nameOf(document: Document, phrase: Phrase, troupe: Troupe, n: number, role: PlayedRole | 'all'): string {
  if (role === 'all') return 'Light';
  const place = [{ id: null, cast: phrase.cast }, ...phrase.places][n];
  const roles = troupe.places.find(({ id }) => id === place?.id)?.roles;
  const key = place?.cast[role]?.idea;
  const idea = roles && ideasFor(document, role, roles).find((one) => one.key === key);
  return (idea?.name ?? capital(ROLE_WORDS[role])).slice(0, 100);
}
const capital = (word: string): string => word.slice(0, 1).toUpperCase() + word.slice(1);

/** What stands for exactly these units: the whole rig, one of them, a group; or a group that is made for them. */
function bound(
  document: Document,
  groups: GroupRecord[],
  ids: readonly LitId[],
  role: PlayedRole | 'all',
  newGroup: () => GroupId,
): ReachId | null {
  const units = [...new Set(ids.filter((id) => id.startsWith('unit:')))];
  const all = recordsOf(document, 'unit');
  if (units.length === all.length) return null;
  if (units.length === 1) return units[0]!;
  const wanted = new Set<string>(units);
  const equals = (found: readonly string[]): boolean =>
    found.length === wanted.size && found.every((id) => wanted.has(id));
  const there = [...recordsOf(document, 'group'), ...groups];
  const group = there.find((one) => equals(membersOf(document, one)));
  if (group) return group.id;
  const area = recordsOf(document, 'area').find(({ id }) => equals(reached(document, [id])));
  if (area) return area.id;
  const base = role === 'all' ? 'Light' : capital(ROLE_WORDS[role]);
  const names = new Set(there.map(({ name }) => name));
  const name =
    [base, ...Array.from({ length: 99 }, (_, i) => `${base} ${i + 2}`)].find((one) => !names.has(one)) ?? base;
  const made = make('group', {
    id: newGroup(),
    number: nextNumber(there),
    name,
    unitIds: units as GroupRecord['unitIds'],
  });
  groups.push(made);
  return made.id;
}

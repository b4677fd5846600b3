import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { kindOf, type Id } from '../ids.ts';
import { reached } from '../patch/groups.ts';
import {
  referencesOf,
  type AimRecord,
  type ChaseRecord,
  type EffectRecord,
  type SceneRecord,
} from '../records/index.ts';
import { MOODS, type Mood } from '../records/profile.ts';
import { ownIdIn, type PlayedRole } from '../records/variant.ts';
import { aimedAt, FOR_PART, IDEAS, READY_IDEAS, type Idea } from './ideas.ts';
import type { Roles } from './roles.ts';

/** What a show has of its own that may play by itself: scenes, chases, effects and aims. */
type Own = SceneRecord | ChaseRecord | EffectRecord | AimRecord;

/** References that only narrow what something reaches. */
const NARROWING = new Set(['areaId', 'pictureId']);
const DEEPEST = 5;

/** Units and parts that a scene or chase sets, whatever it names on the way. */
function touched(document: Document, id: Id, depth = 0, found = new Set<string>()): Set<string> {
  const record = document.get(id);
  if (!record || depth > DEEPEST) return found;
  for (const [path, named] of referencesOf(record)) {
    if (NARROWING.has(path)) continue;
    const kind = kindOf(named);
    if (kind === 'unit') found.add(named);
    else if (kind === 'part') found.add(getRecord(document, 'part', named)?.unitId ?? named);
    else if (kind === 'group' || kind === 'area')
      for (const unit of reached(document, [named as Id<'group'>])) found.add(unit);
    else if (kind === 'scene' || kind === 'chase' || kind === 'effect') touched(document, named, depth + 1, found);
  }
  return found;
}

function isFor(document: Document, record: Own, role: PlayedRole, roles: Roles): boolean {
  if (record.kind === 'aim') return role === 'beams';
  if (record.kind === 'effect') return record.parts.some(({ does }) => FOR_PART[does].includes(role));
  const reach = touched(document, record.id);
  return roles[role].some((id) => reach.has(id));
}

/** The moods that something is meant for: by a colour tag or a folder that is called like one. */
function moodsOfOwn(tagNames: ReadonlyMap<string, string>, { tags, folder }: Pick<Own, 'tags' | 'folder'>): Mood[] {
  const words = [...tags.map((key) => tagNames.get(key) ?? key), ...folder.split('/')].map((word) =>
    word.trim().toLowerCase(),
  );
  return MOODS.filter((mood) => words.includes(mood));
}

const known = new WeakMap<Document, Map<Roles, Map<PlayedRole, readonly Idea[]>>>();

/** All that a role may play in a show: our ideas, then its own, of which those take part by themselves that are tagged for a mood. */
export function ideasFor(document: Document, role: PlayedRole, roles: Roles): readonly Idea[] {
  const byRoles = known.get(document) ?? new Map<Roles, Map<PlayedRole, readonly Idea[]>>();
  known.set(document, byRoles);
  const byRole = byRoles.get(roles) ?? new Map<PlayedRole, readonly Idea[]>();
  byRoles.set(roles, byRole);
  const kept = byRole.get(role);
  if (kept) return kept;
  const tags = new Map(recordsOf(document, 'show').flatMap((show) => show.tags.map(({ key, name }) => [key, name])));
  const own = (['scene', 'chase', 'effect', 'aim'] as const)
    .flatMap((kind): readonly Own[] => recordsOf(document, kind))
    .filter((record) => isFor(document, record, role, roles))
    .map((record): Idea => {
      const { id, name } = record;
      const moods = moodsOfOwn(tags, record);
      if (record.kind === 'aim')
        return {
          key: id,
          name: `At ${name}`,
          moods,
          play: (setting) => ({ target: null, spec: aimedAt(record.id)(setting) }),
        };
      return { key: id, name, moods, play: () => ({ target: record.id, spec: null }) };
    });
  const found = [...IDEAS[role], ...READY_IDEAS[role], ...own];
  byRole.set(role, found);
  return found;
}

/** Whether an idea is something of the show's own. */
export const isOwn = ({ key }: Idea): boolean => ownIdIn(key) !== null;

import { getRecord, recordsOf, type Document } from '../document/change.ts';
import type { AimId, AreaId, ThingId } from '../ids.ts';
import { nextNumber } from '../naming.ts';
import { bounds } from '../plot/paper.ts';
import { roomOf } from '../plot/room-of.ts';
import { surfaceOf } from '../polygon.ts';
import { make, type AimRecord, type AreaRecord } from '../records/index.ts';
import type { AnchorId, Where } from '../records/aim.ts';
import { headsOf } from './axes.ts';

/** The folder that the usual aims lie in. */
export const USUAL_FOLDER = 'Usual';
/** What is over the heads of people: this part of the height of the lowest head, within limits (metres). */
const OVER_HEADS = 0.78;
const [LEAST_OVER_M, MOST_OVER_M] = [2.2, 4];
const HANDS_M = 1.2;
/** Corners are a little inside. */
const INSIDE = 0.9;

/** What the usual aims are made from: both may be missing, then the room itself stands for them. */
export interface UsualFrom {
  readonly floorId: AreaId | null;
  readonly boothId: ThingId | null;
}

/** The area and the thing that are most likely meant: by their names and kinds, the largest first. */
export function likelyFrom(document: Document): UsualFrom {
  const drawn = recordsOf(document, 'area').filter((area) => area.outline);
  const rank = (area: AreaRecord): number =>
    (area.keepOut ? 2 : 0) + (/floor|dance|rink|public|audience/i.test(area.name) ? 1 : 0);
  drawn.sort((a, b) => rank(b) - rank(a) || surfaceOf(b.outline!) - surfaceOf(a.outline!));
  const things = recordsOf(document, 'thing');
  const booth = things.find((t) => t.shape === 'booth') ?? things.find((t) => /booth|decks?\b|\bdj\b/i.test(t.name));
  return { floorId: drawn[0]?.id ?? null, boothId: booth?.id ?? null };
}

interface Row {
  readonly name: string;
  readonly where: Where;
  readonly anchor: AnchorId | null;
  readonly colour: string;
}

/** So far from the middle of the floor to its sides and to its front, metres. */
function floorOf(document: Document, floorId: AreaId | null): { readonly w: number; readonly d: number } {
  const box = floorId && bounds(getRecord(document, 'area', floorId)?.outline ?? []);
  if (box) return { w: (box.max.x - box.min.x) / 2, d: (box.max.y - box.min.y) / 2 };
  const { widthM, depthM } = roomOf(document);
  return { w: widthM / 3, d: depthM / 3 };
}

function rows(document: Document, { floorId, boothId }: UsualFrom): Row[] {
  const { w, d } = floorOf(document, floorId);
  const room = roomOf(document);
  const lowest = Math.min(...headsOf(document).map((unit) => unit.position.z));
  const hung = Number.isFinite(lowest) ? lowest : room.heightM;
  const over = Math.min(Math.max(LEAST_OVER_M, Math.min(MOST_OVER_M, hung * OVER_HEADS)), room.heightM - 0.3);
  const way = (turnDeg: number, riseDeg: number, fanDeg = 0): Where => ({ is: 'direction', turnDeg, riseDeg, fanDeg });
  const at = (x: number, y: number, z: number) => ({ x: round(x), y: round(y), z: round(z) });
  const pair = (x: number, y: number, z: number, crossing: boolean): Where => ({
    is: 'pair',
    at: at(x, y, z),
    middleX: 0,
    crossing,
  });
  const [x, y] = [w * INSIDE, d * INSIDE];
  const onFloor = { anchor: floorId, colour: '#7fd4c1' };
  const free = { anchor: null, colour: '#9aa7ff' };
  const booth = boothId
    ? { where: { is: 'point', at: at(0, 0, HANDS_M) } as Where, anchor: boothId }
    : { where: { is: 'point', at: at(0, room.depthM / 2 - 1, HANDS_M) } as Where, anchor: null };
  return [
    { name: 'Home', where: { is: 'home' }, ...free },
    { name: 'Up', where: way(0, 90), ...free },
    { name: 'Up with a little life', where: way(0, 90, 24), ...free },
    { name: 'Forward', where: way(0, 4), ...free },
    { name: 'Booth', ...booth, colour: '#ffb347' },
    { name: 'Floor centre', where: { is: 'point', at: at(0, 0, 0) }, ...onFloor },
    { name: 'Over floor centre', where: { is: 'point', at: at(0, 0, over) }, ...onFloor },
    { name: 'Front corners', where: pair(x, -y, 0, false), ...onFloor },
    { name: 'Front corners crossing', where: pair(x, -y, 0, true), ...onFloor },
    { name: 'Back corners', where: pair(x, y, 0, false), ...onFloor },
    { name: 'Back corners crossing', where: pair(x, y, 0, true), ...onFloor },
    { name: 'Crossing over the heads', where: pair(x, 0, over, true), ...onFloor },
    { name: 'Out', where: way(0, 22, 50), ...free },
    { name: 'Down', where: way(0, -90), ...free },
  ];
}

const round = (value: number): number => Math.round(value * 100) / 100 + 0;

/**
 * The usual aims of a room. Those that were made before are set anew and keep their ids and what was corrected.
 */
export function usualAims(document: Document, from: UsualFrom, newId: () => AimId): AimRecord[] {
  const all = recordsOf(document, 'aim');
  const known = new Map(all.filter((a) => a.folder === USUAL_FOLDER).map((a) => [a.name, a]));
  let number = nextNumber(all);
  return rows(document, from).map(({ name, where, anchor, colour }) => {
    const old = known.get(name);
    if (old) return { ...old, where, anchor };
    return make('aim', { id: newId(), number: number++, name, folder: USUAL_FOLDER, where, anchor, colour });
  });
}

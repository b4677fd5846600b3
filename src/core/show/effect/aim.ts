import { fromRoom, ownWay, steerTo, toRoom, type Steering } from '../../aim/steer.ts';
import type { EffectPartProgram, EffectProgram } from './compile.ts';
import { pathAt } from './paths.ts';
import { sine } from './turns.ts';
import type { Walker } from './walkers.ts';

/** Moves heads round wherever they aim, as a part does that has made `moved` turns. */
export function drawAim(
  current: Float32Array,
  program: EffectProgram,
  { part, behind, at: side, table, walkers }: EffectPartProgram,
  moved: number,
  weight: number,
  size = 1,
): void {
  if (part.does !== 'aim') return;
  const widest = part.in === 'metres' ? part.acrossM : part.panDeg;
  for (let h = 0; h < program.heads.length; h++) {
    const { element, pan, tilt, panPerDeg, tiltPerDeg } = program.heads[h]!;
    const fan = part.path === 'fan';
    const place = moved - behind[element]!;
    // A fan that moves breathes; one that does not stands open.
    const still = fan && (program.rate === 0 || part.times === 0);
    const along = still ? widest : fan ? widest * (0.5 + 0.5 * sine(place - 0.25)) : pathAt(table, place, 0);
    const x = along * side[element]! * size;
    const y = fan ? 0 : pathAt(table, place, 1) * size;
    const walker = walkers?.[h] ?? null;
    if (walker) {
      drawWalker(current, walker, part.in === 'metres', pan, tilt, x, y, weight);
      continue;
    }
    if (pan >= 0) current[pan] = held(current[pan]! + x * panPerDeg * weight, current[pan]!);
    if (tilt >= 0) current[tilt] = held(current[tilt]! + y * tiltPerDeg * weight, current[tilt]!);
  }
}

const held = (value: number, before: number): number => (value >= 1 ? 1 : value >= 0 ? value : value < 0 ? 0 : before);

/** Where a beam meets nothing it moves round a place so far away, metres. */
const FAR_M = 8;
const [own, room, goal] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
const angles = new Float64Array(2);

/** One head round its aim, or round where it points: by so many degrees, or by so many metres across and up-stage. */
function drawWalker(
  current: Float32Array,
  { steering, round }: Walker,
  metres: boolean,
  pan: number,
  tilt: number,
  x: number,
  y: number,
  weight: number,
): void {
  const { panRange, panZero, tiltRange, tiltZero } = steering;
  const basePan = round ? round.pan : pan < 0 ? 0 : current[pan]! * panRange + panZero;
  const baseTilt = round ? round.tilt : tilt < 0 ? 0 : current[tilt]! * tiltRange + tiltZero;
  angles[0] = basePan;
  angles[1] = baseTilt;
  if (!metres) {
    angles[0] += x;
    angles[1] += y;
  } else if (x !== 0 || y !== 0) {
    if (round?.place) goal.set(round.place);
    else whereItPoints(steering, basePan, baseTilt);
    goal[0] = goal[0]! + x;
    goal[1] = goal[1]! + y;
    fromRoom(steering, goal, own);
    steerTo(steering, own, basePan, baseTilt, angles);
    if (round?.place) {
      // What was corrected by hand stays corrected: only the way round the place is added.
      fromRoom(steering, round.place, own);
      const [p, t] = [angles[0], angles[1]];
      steerTo(steering, own, basePan, baseTilt, angles);
      angles[0] = basePan + p - angles[0];
      angles[1] = baseTilt + t - angles[1];
    }
  }
  if (pan >= 0) laid(current, pan, (angles[0] - panZero) / panRange, weight);
  if (tilt >= 0) laid(current, tilt, (angles[1] - tiltZero) / tiltRange, weight);
}

function laid(current: Float32Array, slot: number, value: number, weight: number): void {
  const before = current[slot]!;
  const within = held(value, before);
  current[slot] = before + (within - before) * weight;
}

/** The place of the floor that a head points at; a place on its way where that is farther or there is none. */
function whereItPoints(steering: Steering, panDeg: number, tiltDeg: number): void {
  ownWay(steering.joint, panDeg, tiltDeg, own);
  toRoom(steering, own, room);
  const toFloor = room[2]! < -1e-6 ? -steering.z / room[2]! : Infinity;
  const far = toFloor > 0 && toFloor < FAR_M * 2 ? toFloor : FAR_M * (toFloor > 0 && toFloor < Infinity ? 2 : 1);
  goal[0] = steering.x + room[0]! * far;
  goal[1] = steering.y + room[1]! * far;
  goal[2] = steering.z + room[2]! * far;
}

import { fadeLevel } from './clock.ts';
import { steered } from './exact.ts';
import type { Draw, Laid } from './drawing.ts';
import { applyLevel, applyRow, type Merging } from './merge.ts';
import type { SceneProgram } from './program.ts';

/** Lays a scene over what is there: attributes with times of their own fade by those, whatever the level of the whole. */
export const drawScene: Draw<SceneProgram> = (into, program, _position, level, laid, time) => {
  if (program.times) drawTimed(into, program, laid, time.ms);
  else if (level > 0) applyRow(into, program, program.values, 0, laid.rank, level, laid.levelsOnly);
};

/** A scene whose attributes have times of their own. */
function drawTimed(into: Merging, program: SceneProgram, { play, rank }: Laid, nowMs: number): void {
  const steer = play.exact ? steered(play.exact, 'level', nowMs) : 1;
  const { slots, values, htpEnd } = program;
  const times = program.times!;
  const { current } = into;
  for (let i = 0; i < slots.length; i++) {
    const inMs = play.flash ? 0 : (play.fadeInMs ?? times.fadeInMs[i]!);
    const outMs = play.flash ? 0 : (play.fadeOutMs ?? times.fadeOutMs[i]!);
    const delay = times.delayMs[i]! / (play.exact?.pace ?? 1);
    const from = play.startedAt + (play.flash ? 0 : delay);
    const level = fadeLevel(from, inMs, play.releasedAt ?? Infinity, outMs, nowMs) * steer;
    const jumps = times.snap[i] === 1 && nowMs >= play.startedAt + delay && play.releasedAt === null;
    if (level <= 0 && !jumps) continue;
    const weight = times.snap[i] === 1 ? 1 : level;
    const slot = slots[i]!;
    if (i < htpEnd) applyLevel(into, slot, values[i]!, rank, weight);
    else current[slot] = current[slot]! + (values[i]! - current[slot]!) * weight;
  }
}

import type { Block, LaneRecord } from '$core/records/lane.ts';
import type { App } from '../app.svelte.ts';

/** What a block plays, by name. */
export function blockName({ live }: Pick<App, 'live'>, { plays }: Pick<Block, 'plays'>): string {
  if (plays.is === 'gone') return `${plays.name} is gone`;
  if (plays.is === 'effect') return plays.name;
  const record = live.document.get(plays.is === 'aim' ? plays.aimId : (plays.target as `scene:${string}`));
  if (record && 'name' in record) return record.name;
  return plays.is === 'play' ? plays.target.replace(/^mood:/, 'Mood ') : plays.aimId;
}

/** What a lane plays on, by name. */
export function laneName(
  { rig, live }: Pick<App, 'rig' | 'live'>,
  { on, lost }: Pick<LaneRecord, 'on' | 'lost'>,
): string {
  if (lost !== null) return `${lost} is gone`;
  if (on === null) return 'The whole rig';
  const record = live.document.get(on);
  return rig.lit(on)?.name ?? (record && 'name' in record ? record.name : on);
}

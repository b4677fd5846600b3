import type { UnitRecord } from '$core/records/index.ts';
import type { UnitFocus } from '$core/records/unit.ts';
import { beamRange, withFocus } from '$core/room/focus.ts';
import type { App } from '../app.svelte.ts';

/** Edits of how fixed lamps were set on the ladder: each is one edit and one undo. */

/** What is wrong, or null where it was taken over. A beam angle must be within the range of every one of the lamps. */
export function setFocus(
  app: App,
  lamps: readonly UnitRecord[],
  partOf: (lamp: UnitRecord) => Partial<UnitFocus>,
  does: string,
): string | null {
  for (const lamp of lamps) {
    const { beamDeg = null } = partOf(lamp);
    const profile = app.rig.profile(lamp.profileId);
    const range = profile && beamRange(profile);
    if (beamDeg !== null && range && (beamDeg < range[0] || beamDeg > range[1]))
      return `${lamp.number} ${lamp.name} goes from ${range[0]}° to ${range[1]}°.`;
  }
  const put = lamps.map((lamp) => withFocus(lamp, partOf(lamp)));
  return app.live.edit(does, { put, remove: [] }) ? null : 'Not changed.';
}

export function setGel(app: App, lamps: readonly UnitRecord[], gel: string | null, what: string): void {
  const does = gel === null ? `No gel on ${what}` : `Gel of ${what}`;
  app.live.edit(does, { put: lamps.map((u) => ({ ...u, gel })), remove: [] });
}

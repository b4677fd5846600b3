import { sceneSchema } from '$core/records/scene.ts';
import type { SceneClip } from '$core/show/reuse.ts';

/** Scenes on their way to another show, kept in the browser: the two shows need not be open at once. */
const KEY = 'amber-scenes';

export function keepClip(clip: SceneClip): void {
  localStorage.setItem(KEY, JSON.stringify(clip));
}

/** What was copied last; null where nothing was, or where it cannot be read any more. */
export function readClip(): SceneClip | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as SceneClip | null;
    if (!kept || !Array.isArray(kept.scenes) || !Array.isArray(kept.units)) return null;
    return { scenes: kept.scenes.map((scene) => sceneSchema.parse(scene)), units: kept.units };
  } catch {
    return null;
  }
}

import { sceneClipSchema, type SceneClip } from '$core/show/reuse.ts';

/** Scenes on their way to another show, kept in the browser: the two shows need not be open at once. */
const KEY = 'amber-scenes';

export function keepClip(clip: SceneClip): void {
  localStorage.setItem(KEY, JSON.stringify(clip));
}

/** What was copied last; null where nothing was, or where it cannot be read any more. */
export function readClip(): SceneClip | null {
  try {
    return sceneClipSchema.parse(JSON.parse(localStorage.getItem(KEY) ?? 'null'));
  } catch {
    return null;
  }
}

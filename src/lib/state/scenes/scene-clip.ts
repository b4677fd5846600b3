import { readClip, type SceneClip } from '$core/show/reuse.ts';

/** Scenes on their way to another show, kept in the browser: the two shows need not be open at once. */
const KEY = 'amber-scenes';

export function keepClip(clip: SceneClip): void {
  localStorage.setItem(KEY, JSON.stringify(clip));
}

/** What was copied last. Nothing where nothing was; a fault in words where it cannot be read any more. */
export function keptClip(): { readonly clip: SceneClip | null; readonly fault: string | null } {
  const text = localStorage.getItem(KEY);
  if (text === null) return { clip: null, fault: null };
  try {
    return { clip: readClip(JSON.parse(text)), fault: null };
  } catch {
    return { clip: null, fault: 'What was copied cannot be read by this version. Copy the scenes again.' };
  }
}

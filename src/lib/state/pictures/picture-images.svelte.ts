import { SvelteMap } from 'svelte/reactivity';
import type { PictureId } from '$core/ids.ts';
import type { App } from '../app.svelte.ts';
import { blobAddress } from './blobs.ts';

interface Ready {
  readonly image: HTMLImageElement | null;
  /** Height for a width of 1. */
  readonly ratio: number;
}
const NONE: Ready = { image: null, ratio: 1 };

/** Pictures of the show, decoded as they are asked for and kept while the page is there. */
export function pictureImages(app: App): { of(id: PictureId): Ready } {
  const ready = new SvelteMap<PictureId, Ready>();
  const asked = new Set<PictureId>();
  return {
    of(id) {
      const found = ready.get(id);
      if (found) return found;
      const picture = app.live.document.get(id);
      if (picture?.kind !== 'picture') return NONE;
      if (!asked.has(id)) {
        asked.add(id);
        const image = new Image();
        image.src = blobAddress(picture.blob);
        void image
          .decode()
          .then(() => ready.set(id, { image, ratio: picture.heightPx / picture.widthPx }))
          // A picture that cannot be read is not drawn; the Pictures panel says so.
          .catch(() => undefined);
      }
      return NONE;
    },
  };
}

import { CanvasTexture, DataTexture, type Texture } from 'three';
import { PICTURES } from '$core/profile/pictures.ts';
import type { BeamPicture } from '$core/room/beam-unit.ts';
import { SHEET_SIDE } from './shaders.ts';

/** The pictures that stand in beams, side by side in one texture: white where light passes. */

const CELL_PX = 128;
/** Our own pictures are drawn in a box of 24; the disc that a gobo fills in it has this radius. */
const [BOX, DISC] = [24, 9.5];

/** What stands for pictures until there are any. */
export function blankSheet(): DataTexture {
  const texture = new DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
  texture.needsUpdate = true;
  return texture;
}

/**
 * Draws them; those that come as files of a profile follow when they are read, and `ready` is called then. Pictures beyond
 * what the sheet holds are left out: their beams are open.
 */
export function drawSheet(pictures: readonly BeamPicture[], ready: () => void): Texture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = SHEET_SIDE * CELL_PX;
  const g = canvas.getContext('2d')!;
  const texture = new CanvasTexture(canvas);
  texture.flipY = false;
  texture.generateMipmaps = false;
  texture.minFilter = texture.magFilter;
  pictures.slice(0, SHEET_SIDE ** 2).forEach(({ profile, picture }, i) => {
    const [x, y] = [(i % SHEET_SIDE) * CELL_PX, Math.floor(i / SHEET_SIDE) * CELL_PX];
    const path = PICTURES[picture];
    if (path !== undefined) {
      const scale = CELL_PX / 2 / (DISC / 0.92);
      g.save();
      g.translate(x + CELL_PX / 2, y + CELL_PX / 2);
      g.scale(scale, scale);
      g.translate(-BOX / 2, -BOX / 2);
      g.fillStyle = '#fff';
      g.fill(new Path2D(path), 'evenodd');
      g.restore();
      return;
    }
    const own = profile.pictures[picture.slice('own:'.length)];
    if (own === undefined) return;
    const image = new Image();
    image.onload = () => {
      g.fillStyle = '#000';
      g.fillRect(x, y, CELL_PX, CELL_PX);
      g.drawImage(image, x, y, CELL_PX, CELL_PX);
      texture.needsUpdate = true;
      ready();
    };
    image.src = own;
  });
  return texture;
}

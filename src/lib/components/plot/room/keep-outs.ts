import { BufferAttribute, BufferGeometry, LineBasicMaterial, LineSegments } from 'three';
import type { Volume } from '$core/aim/keep-out.ts';
import { inRoom } from '$core/plot/rotation.ts';

const COLOUR = 0xff7a52;

/** The edges of what no beam is to meet; faint while nobody works on them. */
export function keepOutLines(volumes: readonly Volume[], strong: boolean): LineSegments {
  const places: number[] = [];
  for (const { standing, outline, low, high } of volumes) {
    const at = (i: number, z: number): number[] => {
      const { x, y } = outline[i % outline.length]!;
      const place = inRoom(standing, { x, y, z });
      return [place.x, place.y, place.z];
    };
    outline.forEach((_, i) => {
      places.push(...at(i, low), ...at(i + 1, low), ...at(i, high), ...at(i + 1, high), ...at(i, low), ...at(i, high));
    });
  }
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(places), 3));
  const lines = new LineSegments(
    geometry,
    new LineBasicMaterial({ color: COLOUR, transparent: true, opacity: strong ? 0.55 : 0.08, depthWrite: false }),
  );
  lines.renderOrder = 5;
  return lines;
}

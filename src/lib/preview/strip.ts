import { applyChange, getRecord, recordsOf, type Document } from '$core/document/change.ts';
import { encodeSrgb } from '$core/colour/convert.ts';
import { reached } from '$core/patch/groups.ts';
import { makeReader, readCell, type CellLight, type Frames } from '$core/patch/readout.ts';
import { make } from '$core/records/index.ts';
import { render, type CompiledRig, type Frame } from '$core/show/index.ts';
import { SongFrames } from '$core/timeline/frames.ts';
import type { PreviewAsk, Strip } from './messages.ts';

/** Most cells of a strip: more are not told apart. */
const ROWS = 16;

/** A block by itself, as the light it makes: the renderer's own frames, so many columns of time. */
export function stripOf(
  rig: CompiledRig,
  frame: Frame,
  document: Document,
  { songId, on, curves, block, columns }: Extract<PreviewAsk, { what: 'strip' }>,
): Strip {
  const lane = make('lane', { id: 'lane:strip', number: 1, songId, on, curves, blocks: [block] });
  const others = recordsOf(document, 'lane').map(({ id }) => id);
  const alone = applyChange(document, { put: [lane], remove: others });
  const frames = new SongFrames(alone, songId, rig);
  const units = on ? reached(document, [on]) : recordsOf(document, 'unit').map(({ id }) => id);
  const cells = units.flatMap((id) => {
    const unit = getRecord(document, 'unit', getRecord(document, 'part', id)?.unitId ?? id);
    if (!unit) return [];
    const reader = makeReader(document, unit);
    return reader.cells.map((_, cell) => ({ reader, cell }));
  });
  const rows = Math.min(ROWS, cells.length);
  const pixels = new Uint8ClampedArray(rows * columns * 4);
  const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
  for (let c = 0; c < columns; c++) {
    const ms = (block.at + ((c + 0.5) / columns) * block.length) * 1000;
    const bytes = render(rig.arrays, frames.at(ms), ms, frame);
    const sent = framesOf(rig, bytes);
    for (let row = 0; row < rows; row++) {
      const { reader, cell } = cells[Math.floor((row * cells.length) / rows)]!;
      const { r, g, b } = readCell(reader, cell, sent, light);
      pixels.set([r, g, b].map((x) => Math.round(encodeSrgb(x) * 255)).concat(255), (row * columns + c) * 4);
    }
  }
  return { rows, pixels };
}

/** The bytes of a frame by universe. */
export const framesOf = ({ arrays }: CompiledRig, bytes: Uint8Array): Frames =>
  new Map(Array.from(arrays.universes, (u, i) => [u as number, bytes.subarray(i * 512, i * 512 + 512)]));

import { FaultError } from '../faults.ts';

/** The container of binary glTF 2.0 (ISO/IEC 12113): a header, a chunk of JSON, and perhaps one of bytes. */

const [MAGIC, VERSION, JSON_CHUNK, BIN_CHUNK] = [0x46546c67, 2, 0x4e4f534a, 0x004e4942];
const HEADER = 12;

export interface Glb {
  readonly json: unknown;
  readonly bin: Uint8Array;
}

export const isGlb = (head: Uint8Array): boolean =>
  head.length >= HEADER && new DataView(head.buffer, head.byteOffset).getUint32(0, true) === MAGIC;

const broken = (path: string, message: string, received: unknown): FaultError =>
  new FaultError({
    code: 'MODEL_BROKEN',
    path,
    message,
    received,
    remedy: 'Export it again as glTF binary (.glb).',
  });

/** Takes it apart. `path` names it where something is wrong. Throws FaultError (MODEL_BROKEN). */
export function readGlb(bytes: Uint8Array, path = 'model'): Glb {
  if (!isGlb(bytes)) throw broken(path, 'it is no binary glTF', bytes.length);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(4, true) !== VERSION)
    throw broken(
      path,
      `it is of version ${view.getUint32(4, true)} of glTF; version 2 is read`,
      view.getUint32(4, true),
    );
  const total = view.getUint32(8, true);
  if (total > bytes.length) throw broken(path, `${total - bytes.length} bytes at its end are missing`, bytes.length);
  let json: unknown;
  let bin = new Uint8Array(0);
  for (let at = HEADER; at + 8 <= total;) {
    const [length, type] = [view.getUint32(at, true), view.getUint32(at + 4, true)];
    if (at + 8 + length > total) throw broken(path, 'a chunk is longer than the file', length);
    const chunk = bytes.subarray(at + 8, at + 8 + length);
    if (type === JSON_CHUNK && json === undefined) json = parseJson(new TextDecoder().decode(chunk), path);
    else if (type === BIN_CHUNK && bin.length === 0) bin = chunk as Uint8Array<ArrayBuffer>;
    at += 8 + length;
  }
  if (json === undefined) throw broken(path, 'it has no chunk of JSON', null);
  return { json, bin };
}

/** JSON of a model. Throws FaultError (MODEL_BROKEN). */
export function parseJson(text: string, path = 'model'): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    throw broken(path, `its JSON cannot be read: ${(error as Error).message.slice(0, 120)}`, text.slice(0, 40));
  }
}

/** Puts it together; both chunks are filled up to four bytes. */
export function writeGlb({ json, bin }: Glb): Uint8Array<ArrayBuffer> {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const up = (length: number): number => Math.ceil(length / 4) * 4;
  const out = new Uint8Array(HEADER + 8 + up(text.length) + 8 + up(bin.length));
  const view = new DataView(out.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, VERSION, true);
  view.setUint32(8, out.length, true);
  view.setUint32(HEADER, up(text.length), true);
  view.setUint32(HEADER + 4, JSON_CHUNK, true);
  out.fill(0x20, HEADER + 8, HEADER + 8 + up(text.length));
  out.set(text, HEADER + 8);
  const at = HEADER + 8 + up(text.length);
  view.setUint32(at, up(bin.length), true);
  view.setUint32(at + 4, BIN_CHUNK, true);
  out.set(bin, at + 8);
  return out;
}

import { MODEL_FILE_BYTES } from '$core/format/model-file.ts';
import type { ThingModel } from '$core/records/thing.ts';
import { sendBlob } from '../pictures/blobs.ts';
import { faultWords } from '../words.ts';
import type { BuiltModel } from './model-build.ts';
import type { FromModelWorker } from './model-worker.ts';

/** Whoever brings a model in waits no longer than this, milliseconds. */
const MOST_MS = 120_000;

/** A model from a file, made plain in a worker and brought into the data folder. Throws with what is wrong. */
export async function takeModel(file: File): Promise<{ readonly model: ThingModel; readonly built: BuiltModel }> {
  if (file.size > MODEL_FILE_BYTES)
    throw new Error(
      `The model has ${Math.round(file.size / 1024 / 1024)} MiB; give one below ${MODEL_FILE_BYTES / 1024 / 1024} MiB.`,
    );
  const built = await build(new Uint8Array(await file.arrayBuffer()), file.name);
  const blob = await sendBlob(built.bytes);
  const { triangles, of, bytes } = built;
  return { built, model: { blob, bytes: bytes.length, triangles, of, file: file.name.slice(0, 200) } };
}

function build(bytes: Uint8Array<ArrayBuffer>, name: string): Promise<BuiltModel> {
  const worker = new Worker(new URL('./model-worker.ts', import.meta.url), { type: 'module' });
  return new Promise<BuiltModel>((resolve, reject) => {
    const late = setTimeout(() => reject(new Error('The model takes too long to be read. Make it simpler.')), MOST_MS);
    worker.onmessage = ({ data }: MessageEvent<FromModelWorker>) => {
      clearTimeout(late);
      if ('built' in data) resolve(data.built);
      else reject(new Error(`${data.fault.path}: ${faultWords(data.fault)}`));
    };
    worker.onerror = () => reject(new Error('The model could not be read: the browser gave up on it.'));
    worker.postMessage({ bytes, name }, [bytes.buffer]);
  }).finally(() => worker.terminate());
}

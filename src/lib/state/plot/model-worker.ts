import { FaultError, type Fault } from '$core/faults.ts';
import { buildModel, type BuiltModel } from './model-build.ts';

/** Wiring only: a file comes in, a plain model or what is wrong with it goes out. */
export type FromModelWorker = { readonly built: BuiltModel } | { readonly fault: Fault };

self.onmessage = (event: MessageEvent<{ bytes: Uint8Array; name: string }>) => {
  const { bytes, name } = event.data;
  buildModel(bytes, name).then(
    (built) => self.postMessage({ built } satisfies FromModelWorker),
    (error: unknown) =>
      self.postMessage({
        fault:
          error instanceof FaultError
            ? error.faults[0]!
            : {
                code: 'MODEL_BROKEN',
                path: name,
                message: `cannot be read: ${String((error as Error)?.message ?? error).slice(0, 160)}`,
                remedy: 'Export it again as glTF binary (.glb).',
              },
      } satisfies FromModelWorker),
  );
};

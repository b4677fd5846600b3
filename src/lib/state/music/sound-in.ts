import tapUrl from './tap.worklet.ts?worker&url';

/** Sound that comes in at this page: opened plainly, and handed on block by block. */

/** What stands in the way of listening in this browser at all, in words; null for nothing. */
export function listeningBarred(): string | null {
  if (!globalThis.isSecureContext)
    return 'Browsers let only pages of this machine (localhost) or of a secure address (https) listen. Open Amber Kite on the machine the microphone is at, or listen with the sound card of the machine it runs on.';
  return navigator.mediaDevices ? null : 'This browser cannot listen.';
}

/** A microphone or line input, as it is: nothing is to be made better. Throws with what is wrong, in words. */
export async function openInput(deviceId = ''): Promise<MediaStream> {
  const barred = listeningBarred();
  if (barred) throw new Error(barred);
  try {
    return await navigator.mediaDevices.getUserMedia({
      audio: {
        ...(deviceId ? { deviceId: { exact: deviceId } } : {}),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
      },
    });
  } catch (error) {
    throw new Error(refusedWords(error as DOMException), { cause: error });
  }
}

/** A node whose port gives what comes in, one channel, in blocks. */
export async function tapOf(stream: MediaStream): Promise<{ context: AudioContext; tap: AudioWorkletNode }> {
  const context = new AudioContext({ latencyHint: 'interactive' });
  await context.audioWorklet.addModule(tapUrl);
  const tap = new AudioWorkletNode(context, 'tap', { numberOfInputs: 1, numberOfOutputs: 1 });
  context.createMediaStreamSource(stream).connect(tap);
  // Nothing is drawn through it unless it leads somewhere; it gives no sound.
  tap.connect(context.destination);
  return { context, tap };
}

function refusedWords({ name, message }: DOMException): string {
  if (name === 'NotAllowedError')
    return 'Listening was refused. Allow the microphone for this page (beside its address), and press Listen.';
  if (name === 'NotFoundError' || name === 'OverconstrainedError')
    return 'There is no such microphone here. Plug one in, or choose another.';
  if (name === 'NotReadableError') return 'Another program holds the microphone. Close that, and press Listen.';
  return `The microphone cannot be listened to (${message}).`;
}

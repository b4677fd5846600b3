import { localMs } from '../live/local-clock.ts';
import type { FromPreview, ToPreview } from './messages.ts';
import { PreviewSession } from './session.ts';

/** The page's worker: wiring only. It draws what is tried or looked at about 30 times a second, while there is any. */
const session = new PreviewSession();
const FRAME_MS = 33;
let clock = 0;
let timer: ReturnType<typeof setInterval> | undefined;

const tell = (message: FromPreview, transfer: Transferable[] = []): void =>
  (self as unknown as { postMessage(m: unknown, t: Transferable[]): void }).postMessage(message, transfer);
const words = (error: unknown): string => String((error as Error)?.message ?? error);

function draw(): void {
  try {
    const frame = session.frame(localMs() + clock);
    if (!frame) return;
    const bytes = frame.bytes.slice();
    tell({ type: 'frame', universes: frame.universes, bytes }, [bytes.buffer]);
  } catch (error) {
    tell({ type: 'fault', id: null, message: words(error) });
  }
}

self.onmessage = (event: MessageEvent<ToPreview>) => {
  const message = event.data;
  if (message.type === 'ask') {
    try {
      tell({ type: 'answer', id: message.id, answer: session.answer(message.ask) });
    } catch (error) {
      tell({ type: 'fault', id: message.id, message: words(error) });
    }
    return;
  }
  if (message.type === 'live') clock = message.clock;
  session.take(message);
  if (session.draws === (timer !== undefined)) return;
  clearInterval(timer);
  timer = session.draws ? setInterval(draw, FRAME_MS) : undefined;
};

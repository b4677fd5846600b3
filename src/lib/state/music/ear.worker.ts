/** Hears what comes in, beside the page: pages that draw must not make the ear late. */
import { Listener } from '$core/music/listen.ts';
import type { Listening } from '$core/music/listening.ts';
import type { Announcement } from '$core/music/follow.ts';

export type ToEar = { readonly rate: number; readonly port: MessagePort };
export type FromEar =
  { readonly said: readonly Announcement[]; readonly at: number } | { readonly listening: Listening };

const REPORT_MS = 200;
const send = (message: FromEar): void => postMessage(message);

addEventListener('message', ({ data: { rate, port } }: MessageEvent<ToEar>) => {
  const listener = new Listener(rate);
  port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
    const said = listener.feed(data);
    if (said.length > 0) send({ said, at: listener.at });
  };
  setInterval(() => send({ listening: listener.report() }), REPORT_MS);
});

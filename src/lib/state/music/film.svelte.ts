import { hasSound } from '$core/records/song.ts';
import type { LiveState } from '$core/show/index.ts';
import { songAlone } from '$core/timeline/frames.ts';
import { paintThumb } from '$lib/components/scenes/paint-thumb.ts';
import type { App } from '../app.svelte.ts';
import { fileName, saveFile } from '../save-file.ts';
import type { SongDesk } from './song-desk.svelte.ts';
import { soundOf } from './sounds.ts';

const [WIDTH, HEIGHT, FPS] = [960, 540, 25];
const KINDS = ['video/webm;codecs=vp8,opus', 'video/webm;codecs=vp8', 'video/webm'];

/** A preview film of the light of a song (WebM): the rig on a canvas, with the sound. It takes as long as it plays. */
export class Film {
  readonly #app: App;
  /** How far it is, 0-1; null while none is made. */
  share = $state<number | null>(null);
  fault = $state<string | null>(null);
  #stopped = false;

  constructor(app: App) {
    this.#app = app;
  }
  stop(): void {
    this.#stopped = true;
  }

  async make(desk: SongDesk, { from, to }: { readonly from: number; readonly to: number }): Promise<void> {
    if (this.share !== null) return;
    const type =
      typeof MediaRecorder === 'undefined' ? undefined : KINDS.find((kind) => MediaRecorder.isTypeSupported(kind));
    if (!type) {
      this.fault = 'This browser cannot make films of this kind (WebM). Try another browser.';
      return;
    }
    [this.share, this.fault, this.#stopped] = [0, null, false];
    const { song } = desk;
    const canvas = document.createElement('canvas');
    const context = new AudioContext();
    try {
      const stream = canvas.captureStream(FPS);
      const out = context.createMediaStreamDestination();
      const node = context.createBufferSource();
      if (hasSound(song)) {
        node.buffer = await soundOf(song);
        node.connect(out);
        for (const track of out.stream.getAudioTracks()) stream.addTrack(track);
      }
      const recorder = new MediaRecorder(stream, { mimeType: type, videoBitsPerSecond: 4_000_000 });
      const parts: Blob[] = [];
      recorder.ondataavailable = ({ data }) => parts.push(data);
      const ended = new Promise((resolve) => (recorder.onstop = resolve));
      const state = songAlone(this.#app.live.document, song.id);
      await context.resume();
      await this.#draw(canvas, state, from);
      recorder.start(1000);
      if (node.buffer) node.start(0, from);
      const began = performance.now();
      for (;;) {
        const at = from + (performance.now() - began) / 1000;
        if (at >= to || this.#stopped) break;
        await this.#draw(canvas, state, at);
        this.share = (at - from) / (to - from);
        await new Promise((resolve) => setTimeout(resolve, 1000 / FPS / 2));
      }
      recorder.stop();
      await ended;
      if (!this.#stopped)
        saveFile(
          new Uint8Array(await new Blob(parts, { type }).arrayBuffer()),
          `${fileName(song.name)}.webm`,
          'video/webm',
        );
    } catch (error) {
      this.fault = (error as Error).message;
    } finally {
      this.share = null;
      void context.close();
    }
  }

  async #draw(canvas: HTMLCanvasElement, live: LiveState, at: number): Promise<void> {
    const look = await this.#app.live.preview.ask({ what: 'moment', peek: { live, ms: at * 1000 } });
    const scale = window.devicePixelRatio || 1;
    // The painter begins anew with a clear canvas: films have a dark ground.
    paintThumb(canvas, look, WIDTH / scale, HEIGHT / scale);
    const context = canvas.getContext('2d')!;
    context.globalCompositeOperation = 'destination-over';
    context.fillStyle = '#0c0f15';
    context.fillRect(0, 0, canvas.width, canvas.height);
  }
}

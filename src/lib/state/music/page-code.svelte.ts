import { LtcReader } from '$core/protocol/ltc.ts';
import { MtcReader, type CodeHeard } from '$core/protocol/mtc.ts';
import { codeAt, codeText } from '$core/protocol/timecode.ts';
import type { LiveClient } from '../../live/client.svelte.ts';
import { openInput, tapOf } from './sound-in.ts';

/** A MIDI input of this browser. */
export interface MidiIn {
  readonly id: string;
  readonly name: string;
}

/** The engine is told so often while the code runs as it did, ms; and at once when it is farther off than this, s. */
const TELL_MS = 400;
const JUMP_S = 0.05;
/** Without a word for so long nothing is heard, ms. */
const GONE_MS = 500;

/** Time code that comes in at this page, by MIDI or as sound: told to the engine, which lets songs follow it. */
export class PageCode {
  readonly #live: LiveClient;
  /** What it listens to now; null: nothing. */
  by = $state.raw<string | null>(null);
  trouble = $state.raw<string | null>(null);
  midi = $state.raw<readonly MidiIn[]>([]);
  /** The code as it was heard last, for people; empty while none is. */
  text = $state('');
  #end: (() => void) | null = null;
  #told: { readonly at: number; readonly ms: number; readonly way: number } | null = null;
  #silence: ReturnType<typeof setTimeout> | null = null;

  constructor(live: LiveClient) {
    this.#live = live;
  }

  /** Looks which MIDI inputs there are; asks the person where the browser wants that. */
  async look(): Promise<MIDIAccess | null> {
    if (!('requestMIDIAccess' in navigator)) {
      this.trouble = 'This browser has no MIDI, or only for pages of this machine (localhost) or of a secure address.';
      return null;
    }
    try {
      // Full frames are told in system exclusive messages.
      const access = await navigator.requestMIDIAccess({ sysex: true });
      const list = (): void => {
        this.midi = [...access.inputs.values()].map(({ id, name }) => ({ id, name: name ?? id }));
      };
      access.onstatechange = list;
      list();
      this.trouble = this.midi.length > 0 ? null : 'There is no MIDI input at this machine. Plug one in.';
      return access;
    } catch {
      this.trouble = 'MIDI was refused. Allow it for this page (beside its address), and try again.';
      return null;
    }
  }

  async fromMidi(id: string): Promise<void> {
    this.stop();
    const access = await this.look();
    const input = access?.inputs.get(id);
    if (!input) return;
    const reader = new MtcReader();
    input.onmidimessage = ({ data, timeStamp }) => {
      const heard = data && reader.take(data);
      // What was a moment on its way is told for when it came.
      if (heard) this.#take(heard, performance.now() - timeStamp);
    };
    await this.#begin(`MIDI: ${input.name ?? id}`, () => (input.onmidimessage = null));
  }

  async fromSound(): Promise<void> {
    this.stop();
    let stream: MediaStream;
    try {
      stream = await openInput();
    } catch (error) {
      this.trouble = (error as Error).message;
      return;
    }
    const { context, tap } = await tapOf(stream);
    const reader = new LtcReader(context.sampleRate);
    let samples = 0;
    tap.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
      samples += data.length;
      for (const heard of reader.take(data)) {
        const late = (samples - heard.sample) / context.sampleRate + context.baseLatency;
        this.#take(heard, late * 1000);
      }
    };
    await context.resume();
    await this.#begin('Sound of this page', () => {
      tap.port.onmessage = null;
      for (const track of stream.getTracks()) track.stop();
      void context.close();
    });
  }

  async #begin(by: string, end: () => void): Promise<void> {
    this.#end = end;
    this.by = by;
    this.trouble = null;
    this.#told = null;
    await this.#live.command({ do: 'codeFrom', by: by.slice(0, 100) });
  }

  /** A code that was heard so many ms ago. */
  #take({ at, rate, way }: CodeHeard, agoMs: number): void {
    const ms = this.#live.now() - agoMs;
    this.text = codeText(codeAt(Math.max(0, at), rate));
    if (this.#silence) clearTimeout(this.#silence);
    this.#silence = setTimeout(() => (this.text = ''), GONE_MS);
    const told = this.#told;
    const wanted = told && told.at + ((ms - told.ms) / 1000) * told.way;
    const same = told !== null && told.way === way && Math.abs(wanted! - at) < JUMP_S;
    if (same && ms - told.ms < TELL_MS) return;
    this.#told = { at, ms, way };
    void this.#live.command({ do: 'code', at: Math.max(0, at), way, ms });
  }

  stop(): void {
    this.#end?.();
    this.#end = null;
    if (this.by !== null && this.#live.real?.code?.by === this.by)
      void this.#live.command({ do: 'codeFrom', by: null });
    this.by = null;
    this.text = '';
  }
}

import { getRecord } from '$core/document/change.ts';
import type { SongId } from '$core/ids.ts';
import { hasSound, LONGEST_SONG_S } from '$core/records/song.ts';
import { gapOf, nextSongMs, songAt, songBy, type SongOn } from '$core/show/live/songs.ts';
import { JUMP_S, offInLoop, rateFor } from '$core/song/together.ts';
import { clamp } from '$core/units.ts';
import type { LiveClient } from '../../live/client.svelte.ts';
import { click } from './click.ts';
import { soundOf } from './sounds.ts';

/** How often it is looked whether sound and show are together, ms. */
const LOOK_MS = 200;
/** The page that plays says so this often; without a word for so long it is gone, ms. */
const [TELL_MS, GONE_MS] = [2000, 7000];
/** Sound never begins or ends with a click, s. */
const FADE_S = 0.015;
/** The next song of a list is fetched so long before it begins, ms. */
const FETCH_MS = 30_000;

/** A song that sounds: at the context's time `ctx` it was at `at` seconds, going at `rate`. */
interface Sounding {
  readonly songId: SongId;
  readonly node: AudioBufferSourceNode;
  readonly gain: GainNode;
  readonly loop: SongOn['loop'];
  /** The speed it was begun with. */
  readonly song: number;
  ctx: number;
  at: number;
  rate: number;
}

/**
 * The sound of songs in this page, kept together with the clock of the show. One page plays at a time: the one that was
 * chosen, by a name that outlives a reload.
 */
export class SoundPlayer {
  readonly key: string = sessionKey();
  /** The browser lets no sound out before somebody has pressed something. */
  blocked = $state(false);
  fault = $state<string | null>(null);
  fetching = $state(false);
  /** How far sound and show are apart, ms; null while nothing sounds. */
  offMs = $state.raw<number | null>(null);
  /** The sound takes so much longer to the ear than the browser knows, ms. */
  delayMs = $state(Number(localStorage.getItem('amber-sound-delay') ?? 0) || 0);
  volume = $state(Number(localStorage.getItem('amber-sound-level') ?? 1));
  readonly #live: LiveClient;
  #context: AudioContext | null = null;
  #sounding: Sounding | null = null;
  #timer: ReturnType<typeof setInterval> | null = null;
  #starting = false;

  constructor(live: LiveClient) {
    this.#live = live;
    setInterval(() => this.#lookForPlayer(), TELL_MS);
  }

  /** This page is the one that plays. */
  get own(): boolean {
    return this.#live.real?.soundPlayer?.key === this.key;
  }
  /** Some page plays, as far as one hears of it: a page that was closed is told no more. */
  get anybody(): boolean {
    return this.#live.real?.soundPlayer !== null && !this.gone;
  }
  /** The page that was chosen is not there any more. */
  gone = $state(false);

  #lookForPlayer(): void {
    const player = this.#live.real?.soundPlayer ?? null;
    if (this.own) this.#live.sounds(this.key, this.offMs);
    const said = this.#live.sound;
    const heardOf = said !== null && said.key === player?.key ? said.at : this.#since;
    this.gone = player !== null && !this.own && performance.now() - heardOf > GONE_MS;
  }
  #since = performance.now();

  /** Somebody plays a song here: where no page plays, this one does from now on. */
  ready(name: string): void {
    if (this.own) this.allow();
    else if (!this.anybody) void this.choose(name);
  }

  /** This page plays from now on. Called from a press, so that the browser lets sound out. */
  async choose(name: string): Promise<void> {
    this.allow();
    await this.#live.command({ do: 'soundPlayer', player: { key: this.key, name: name.slice(0, 60), card: null } });
  }

  /** Called from a press: the browser lets sound out from then on. */
  allow(): void {
    void this.#audio().resume();
    this.look();
  }

  setDelay(ms: number): void {
    this.delayMs = clamp(Math.round(ms), -500, 500);
    localStorage.setItem('amber-sound-delay', String(this.delayMs));
  }
  setVolume(share: number): void {
    this.volume = clamp(share, 0, 1);
    localStorage.setItem('amber-sound-level', String(this.volume));
    if (this.#context && this.#sounding)
      this.#sounding.gain.gain.setTargetAtTime(this.volume, this.#context.currentTime, 0.02);
  }

  #audio(): AudioContext {
    if (!this.#context) {
      this.#context = new AudioContext({ latencyHint: 'interactive' });
      this.#context.onstatechange = () => this.look();
    }
    return this.#context;
  }

  /** Something that it plays may have changed. */
  look(): void {
    const song = this.own ? (this.#live.real?.song ?? null) : null;
    if (!song?.playing) {
      this.#quiet(FADE_S);
      this.blocked = false;
      if (this.#timer) clearInterval(this.#timer);
      this.#timer = null;
      return;
    }
    this.#timer ??= setInterval(() => this.look(), LOOK_MS);
    const context = this.#audio();
    this.blocked = context.state !== 'running';
    if (this.blocked) {
      void context.resume();
      return;
    }
    this.#fetchNext(song);
    const sounding = this.#sounding;
    const same = sounding?.songId === song.songId && sameLoop(sounding.loop, song.loop);
    if (!sounding || !same) return void this.#start(song);
    this.#correct(sounding, song);
  }

  /** The moment of the context that is at the ear now, and the moment of the show. */
  #now(): { ctx: number; ms: number } {
    const context = this.#context!;
    const stamp = context.getOutputTimestamp();
    const ms = this.#live.now() + this.delayMs;
    if (!stamp.contextTime || !stamp.performanceTime)
      return { ctx: context.currentTime - (context.outputLatency || context.baseLatency || 0), ms };
    return { ctx: stamp.contextTime + (performance.now() - stamp.performanceTime) / 1000, ms };
  }

  async #start(song: SongOn): Promise<void> {
    const record = getRecord(this.#live.document, 'song', song.songId);
    if (this.#starting || !record) return;
    // Plain time has nothing to sound.
    if (!hasSound(record)) return this.#quiet(FADE_S);
    this.#starting = true;
    this.fetching = true;
    try {
      const buffer = await soundOf(record);
      this.fault = null;
      // A song that could not be heard has a length all the same: a list goes on after it.
      if (record.lengthS === null)
        this.#live.edit(`Length of ${record.name}`.slice(0, 120), {
          put: [{ ...record, lengthS: Math.min(LONGEST_SONG_S, Math.round(buffer.duration * 1e4) / 1e4) }],
          remove: [],
        });
      const now = this.own ? this.#live.real?.song : null;
      if (now?.playing && now.songId === song.songId) this.#begin(now, buffer);
    } catch (error) {
      this.fault = (error as Error).message;
      this.#quiet(FADE_S);
    } finally {
      this.#starting = false;
      this.fetching = false;
    }
  }

  #begin(song: SongOn, buffer: AudioBuffer): void {
    const context = this.#context!;
    const { ctx, ms } = this.#now();
    // What is put in now is at the ear so much later; a little more, so that it is never late.
    const ahead = context.currentTime + 0.05 - ctx;
    const due = Math.max(ahead, (song.ms - ms) / 1000);
    const at = songAt(song, ms + due * 1000);
    const { rate } = song;
    if (at >= buffer.duration) return this.#quiet(FADE_S);
    const gap = song.list ? gapOf(this.#live.document, song.list.id) : 0;
    const fade = this.#sounding && this.#sounding.songId !== song.songId ? Math.max(FADE_S, -gap) : FADE_S;
    this.#quiet(fade);
    const node = context.createBufferSource();
    const gain = context.createGain();
    node.buffer = buffer;
    if (song.loop && at < song.loop.to) {
      node.loop = true;
      node.loopStart = song.loop.from;
      node.loopEnd = Math.min(song.loop.to, buffer.duration);
    }
    const begins = ctx + due;
    gain.gain.setValueAtTime(0, begins);
    gain.gain.linearRampToValueAtTime(this.volume, begins + (at < 0.05 ? FADE_S / 5 : fade));
    node.connect(gain).connect(context.destination);
    node.playbackRate.value = rate;
    node.start(begins, at);
    this.#sounding = { songId: song.songId, node, gain, loop: song.loop, song: rate, ctx: begins, at, rate };
  }

  /** Where it sounds at a moment of the context, seconds, without going round. */
  #placeOf({ ctx, at, rate }: Sounding, now: number): number {
    return at + Math.max(0, now - ctx) * rate;
  }

  #correct(sounding: Sounding, song: SongOn): void {
    const { ctx, ms } = this.#now();
    if (ctx < sounding.ctx + 0.05) {
      // It has not begun: was it set elsewhere meanwhile?
      const due = songAt(song, ms + (sounding.ctx - ctx) * 1000);
      if (Math.abs(due - sounding.at) > JUMP_S) void this.#start(song);
      return;
    }
    const length = sounding.node.buffer!.duration;
    const wanted = songAt(song, ms);
    if (wanted >= length) return;
    let off = this.#placeOf(sounding, ctx) - wanted;
    const { loop } = sounding;
    if (loop) off = offInLoop(off, loop.to - loop.from);
    this.offMs = Math.round(off * 10_000) / 10;
    const trim = rateFor(off);
    if (trim === null || sounding.song !== song.rate) return void this.#start(song);
    const rate = trim * song.rate;
    if (rate === sounding.rate) return;
    const now = this.#context!.currentTime;
    sounding.at = this.#placeOf(sounding, now);
    sounding.ctx = now;
    sounding.rate = rate;
    sounding.node.playbackRate.setValueAtTime(rate, now);
  }

  #quiet(fade: number): void {
    const sounding = this.#sounding;
    this.#sounding = null;
    this.offMs = null;
    if (!sounding || !this.#context) return;
    const now = this.#context.currentTime;
    const { gain, node } = sounding;
    gain.gain.cancelScheduledValues(now);
    gain.gain.setValueAtTime(gain.gain.value, now);
    gain.gain.linearRampToValueAtTime(0, now + fade);
    node.stop(now + fade + 0.01);
  }

  /** The next song of the list is fetched before it is due. */
  #fetchNext(song: SongOn): void {
    const due = nextSongMs(this.#live.document, song);
    if (due === null || due - this.#live.now() > FETCH_MS) return;
    const next = songBy(this.#live.document, song, 1);
    const record = next && getRecord(this.#live.document, 'song', next);
    if (record && hasSound(record)) void soundOf(record).catch(() => undefined);
  }

  /** A click in the ear at a moment of the show, for trimming and for clicking over a song. */
  click(atMs: number, high: boolean): void {
    const context = this.#context;
    if (!context || context.state !== 'running') return;
    const { ctx, ms } = this.#now();
    const when = Math.max(context.currentTime, ctx + (atMs - ms) / 1000);
    click(context, when, { hz: high ? 1760 : 1175, level: 0.35, long: 0.05 });
  }
}

const sameLoop = (a: SongOn['loop'], b: SongOn['loop']): boolean =>
  a === b || (a !== null && b !== null && a.from === b.from && a.to === b.to);

/** A name of this page that outlives a reload. */
function sessionKey(): string {
  const kept = sessionStorage.getItem('amber-player');
  if (kept) return kept;
  const key = Array.from(crypto.getRandomValues(new Uint8Array(8)), (b) => b.toString(16).padStart(2, '0')).join('');
  sessionStorage.setItem('amber-player', key);
  return key;
}

import { z } from 'zod';
import { getRecord, type Document } from '../../document/change.ts';
import type { SetlistId, SongId } from '../../ids.ts';
import { LEAN_LIMIT, type Action, type LevelOf } from '../../records/action.ts';
import { levelSchema, PACE_LIMITS } from '../../records/common.ts';
import { clamp, clamp01 } from '../../units.ts';
import type { LiveCommand } from './command.ts';
import { isPlaying, type LiveState } from './state.ts';
import { TAPS_COUNTED, tappedBpm } from './taps.ts';

/**
 * How an action is asked for: pressed once, held and let go, or moved to a value of 0-1. `last` is the value before; null
 * where it is heard for the first time.
 */
export const signalSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('press') }),
  z.strictObject({ kind: z.literal('hold'), on: z.boolean() }),
  z.strictObject({ kind: z.literal('value'), value: levelSchema, last: levelSchema.nullable() }),
]);
export type Signal = z.infer<typeof signalSchema>;

/** From here on a value counts as held: the upper half of 0-255. */
const HALF = 128 / 255;

/** A value that is given at once has come from the other side of the half: it fires. */
export const movedTo = (value: number): Signal => ({ kind: 'value', value, last: value < HALF ? 1 : 0 });

interface At {
  readonly document: Document;
  readonly live: LiveState;
  /** Moments of the taps so far, this one included. */
  readonly taps: readonly number[];
  /** It went down (or was pressed) or up just now; null for neither. */
  readonly edge: 'down' | 'up' | null;
  /** What it was moved to, 0-1; null for a press. */
  readonly value: number | null;
  /** Whether a value is heard for the first time: it sets levels but fires nothing. */
  readonly first: boolean;
  readonly pressed: boolean;
}

type Resolver<D extends Action['do']> = (action: Extract<Action, { do: D }>, at: At) => LiveCommand | null;

/** What each action comes to: whoever adds one says it here. */
const RESOLVERS: { readonly [D in Action['do']]: Resolver<D> } = {
  play({ target, areaId, fadeInMs, instead, held }, { edge }) {
    if (edge === 'down')
      return {
        do: 'play',
        target,
        ...(areaId ? { areaId } : {}),
        ...(fadeInMs === undefined ? {} : { fadeInMs }),
        ...(instead === undefined ? {} : { instead }),
      };
    return edge === 'up' && held ? { do: 'release', target } : null;
  },
  release: ({ target, fadeOutMs }, { edge }) =>
    edge === 'down' ? { do: 'release', target, ...(fadeOutMs === undefined ? {} : { fadeOutMs }) } : null,
  toggle: ({ target }, { edge, live }) =>
    edge === 'down' ? { do: isPlaying(live, target) ? 'release' : 'play', target } : null,
  flash: ({ target }, { edge, pressed }) =>
    // A press alone has no end, and a flash without an end is none.
    edge && !pressed ? { do: 'flash', target, on: edge === 'down' } : null,
  go({ target, back }, { edge, live }) {
    if (edge !== 'down') return null;
    const play = live.playing.findLast((p) => p.target === target && p.releasedAt === null && !p.flash);
    return play ? { do: 'step', playId: play.id, by: back ? -1 : 1 } : { do: 'play', target };
  },
  releaseAll: ({ areaId, fadeOutMs }, { edge }) =>
    edge === 'down'
      ? { do: 'releaseAll', ...(areaId ? { areaId } : {}), ...(fadeOutMs === undefined ? {} : { fadeOutMs }) }
      : null,
  level({ of, to }, { edge, value, first }) {
    const level = to === undefined ? value : edge === 'down' ? to : null;
    return level === null ? null : levelCommand(of, level, first);
  },
  dark({ areaId }, { edge, pressed, live }) {
    if (edge === null) return null;
    const now = areaId ? (live.areasDark[areaId]?.on ?? false) : live.dark.on;
    const on = pressed ? !now : edge === 'down';
    return areaId ? { do: 'areaDark', areaId, on } : { do: 'dark', on };
  },
  tempo({ bpm }, { edge, value, first }) {
    if (bpm !== undefined) return edge === 'down' ? { do: 'tempo', bpm } : null;
    return value === null || first ? null : { do: 'tempo', bpm: 20 + value * 255 };
  },
  tap(_, { edge, taps }) {
    const bpm = edge === 'down' ? tappedBpm(taps) : null;
    return bpm === null ? null : { do: 'tempo', bpm, beatNow: true };
  },
  nudge: ({ beats }, { edge }) => (edge === 'down' ? { do: 'nudge', beats } : null),
  pace({ to }, { edge, value, first }) {
    const pace = to === undefined ? (value === null || first ? null : value * 2) : edge === 'down' ? to : null;
    return pace === null ? null : { do: 'pace', pace: clamp(pace, ...PACE_LIMITS) };
  },
  mood: ({ mood, areaId }, { edge }) => (edge === 'down' ? { do: 'mood', mood, ...(areaId ? { areaId } : {}) } : null),
  freeze: (_, { edge, pressed, live }) =>
    edge === null ? null : { do: 'freeze', on: pressed ? live.frozen === null : edge === 'down' },
  auto: (_, { edge, pressed, live }) =>
    edge === null ? null : { do: 'auto', on: pressed ? !(live.auto?.on ?? false) : edge === 'down' },
  song: ({ songId }, { edge, live }) =>
    edge === 'down' ? (live.song?.songId === songId ? { do: 'songOff' } : { do: 'song', songId }) : null,
  songList({ listId }, { edge, live, document }) {
    if (edge !== 'down') return null;
    if (live.song?.list?.id === listId) return { do: 'songOff' };
    const first = firstOf(document, listId);
    return first && { do: 'song', songId: first, list: listId };
  },
  songPlay: (_, { edge, live }) => (edge === 'down' && live.song ? { do: 'songPlay', on: !live.song.playing } : null),
  songNext: (_, { edge, live }) => (edge === 'down' && live.song?.list ? { do: 'songBy', by: 1 } : null),
  autoNext: (_, { edge }) => (edge === 'down' ? { do: 'autoNext' } : null),
  autoLean({ lean }, { edge, value, first }) {
    const steps = value === null || first ? null : Math.round((value * 2 - 1) * LEAN_LIMIT);
    const to = lean === undefined ? steps : edge === 'down' ? lean : null;
    return to === null ? null : { do: 'autoLean', lean: to };
  },
};

/** The song a list begins with. */
const firstOf = (document: Document, listId: SetlistId): SongId | null =>
  getRecord(document, 'setlist', listId)?.songs[0] ?? null;

function levelCommand(of: LevelOf, level: number, first: boolean): LiveCommand | null {
  switch (of.what) {
    case 'grand':
      return { do: 'grand', level };
    case 'area':
      return { do: 'area', areaId: of.id, level };
    case 'group':
      return { do: 'group', groupId: of.id, level };
    case 'kind':
      return { do: 'kind', kind: of.kind, level };
    case 'unit':
      if (level > 0) return { do: 'hand', set: { [of.id]: { Dimmer: level } } };
      return first ? null : { do: 'hand', set: { [of.id]: { Dimmer: null } } };
  }
}

/** People who tap at the same time: the one who did last longest ago is forgotten. */
const MOST_TAPPERS = 64;

interface ActorHost {
  readonly document: () => Document;
  readonly live: () => LiveState;
  /** Runs a command. Throws FaultError where it names what is not there. */
  readonly command: (command: LiveCommand) => void;
}

/** The one place where actions are resolved and run, whoever asks for them. */
export class Actor {
  readonly #host: ActorHost;
  readonly #taps = new Map<string, number[]>();

  constructor(host: ActorHost) {
    this.#host = host;
  }

  /**
   * Runs an action as it was asked for at `nowMs` by `who` (taps of one are none of another's). Gives the command it came
   * to; null where it comes to none. Throws FaultError like the host.
   */
  act(action: Action, signal: Signal, nowMs: number, who: string): LiveCommand | null {
    const edge = edgeOf(signal);
    const taps = action.do === 'tap' && edge === 'down' ? this.#tapped(who, nowMs) : [];
    const command = (RESOLVERS[action.do] as Resolver<Action['do']>)(action as never, {
      document: this.#host.document(),
      live: this.#host.live(),
      taps,
      edge,
      value: signal.kind === 'press' ? null : signal.kind === 'hold' ? Number(signal.on) : clamp01(signal.value),
      first: signal.kind === 'value' && signal.last === null,
      pressed: signal.kind === 'press',
    });
    if (command) this.#host.command(command);
    return command;
  }

  #tapped(who: string, nowMs: number): readonly number[] {
    const taps = [...(this.#taps.get(who) ?? []), nowMs].slice(-TAPS_COUNTED);
    this.#taps.delete(who);
    this.#taps.set(who, taps);
    if (this.#taps.size > MOST_TAPPERS) this.#taps.delete(this.#taps.keys().next().value!);
    return taps;
  }
}

/** A value fires when it goes through the half; one that is heard for the first time does not. */
function edgeOf(signal: Signal): At['edge'] {
  if (signal.kind === 'press') return 'down';
  if (signal.kind === 'hold') return signal.on ? 'down' : 'up';
  if (signal.last === null) return null;
  const [was, is] = [signal.last >= HALF, signal.value >= HALF];
  return was === is ? null : is ? 'down' : 'up';
}

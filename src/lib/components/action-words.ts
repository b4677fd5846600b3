import type { Action, LevelOf } from '$core/records/action.ts';

/** What can be done from outside, in the order it is offered. */
export const ACTION_WORDS: Readonly<Record<Action['do'], string>> = {
  level: 'level of …',
  play: 'play …',
  toggle: 'play or let go …',
  flash: 'flash …',
  go: 'next step of …',
  release: 'let go …',
  releaseAll: 'let everything go',
  dark: 'Dark',
  freeze: 'freeze',
  mood: 'mood',
  tempo: 'tempo (20-275)',
  tap: 'tap the tempo',
  nudge: 'nudge the beat',
  pace: 'pace of everything',
  song: 'song …',
  songList: 'list of songs …',
  songPlay: 'song: stand or go on',
  songNext: 'song: next of its list',
  auto: 'Auto',
  autoNext: 'Auto: next',
  autoLean: 'Auto: more or less',
};

export const LEVEL_WORDS: Readonly<Record<LevelOf['what'], string>> = {
  grand: 'the grand master',
  area: 'an area',
  group: 'a group',
  kind: 'a kind of fixture',
  unit: 'a unit, by hand',
};

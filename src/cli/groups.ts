import type { CommandTable } from './command.ts';

/** Commands that are loaded together, by the first words of their names. */
export interface CommandGroup {
  readonly first: readonly string[];
  readonly load: () => Promise<CommandTable>;
}

/** Every command there is. A call loads its own group alone. */
export const GROUPS: readonly CommandGroup[] = [
  { first: ['address'], load: async () => (await import('./address.ts')).ADDRESS },
  { first: ['archive'], load: async () => (await import('./archive.ts')).ARCHIVE },
  { first: ['render', 'explain'], load: async () => (await import('./play.ts')).PLAY },
  { first: ['renumber'], load: async () => (await import('./patch.ts')).PATCH },
  { first: ['sheet'], load: async () => (await import('./sheet.ts')).SHEET },
  { first: ['profile'], load: async () => (await import('./profile.ts')).PROFILE },
  { first: ['grid', 'prop'], load: async () => (await import('./prop.ts')).PROP },
  { first: ['plot'], load: async () => (await import('./plot.ts')).PLOT },
  { first: ['aim'], load: async () => (await import('./aim.ts')).AIM },
  { first: ['auto'], load: async () => (await import('./auto.ts')).AUTO },
  { first: ['music'], load: async () => (await import('./music.ts')).MUSIC },
  { first: ['song'], load: async () => (await import('./song.ts')).SONG },
  { first: ['room'], load: async () => (await import('./room.ts')).ROOM },
  { first: ['listen'], load: async () => (await import('./listen.ts')).LISTEN },
  { first: ['discover'], load: async () => (await import('./discover.ts')).DISCOVER },
  { first: ['test'], load: async () => (await import('./test-signal.ts')).TEST_SIGNAL },
  { first: ['standin'], load: async () => (await import('./standin.ts')).STANDIN },
];

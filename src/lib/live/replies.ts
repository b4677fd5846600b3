import type { Fault } from '$core/faults.ts';
import type { ServerMessage } from '$core/protocol/live.ts';

export type Reply = Extract<ServerMessage, { type: 'reply' }>;
export type Answered = Extract<ServerMessage, { type: 'answer' }>;

const AWAY: Fault = {
  code: 'OFFLINE',
  path: '',
  message: 'not connected to Amber Kite',
  remedy: 'It connects again by itself; then try again.',
};
/** What comes of asking while nobody is there. */
export const AWAY_REPLY: Reply = { type: 'reply', id: 0, faults: [AWAY], revision: null, label: null };
export const AWAY_ANSWER: Answered = { type: 'answer', id: 0, answer: null, faults: [AWAY] };

import { z } from 'zod';
import { FaultError, type Fault } from '../faults.ts';

/** What somebody may be allowed to do. */
export const RIGHTS = ['see', 'act', 'command', 'edit', 'network', 'shows'] as const;
export type Right = (typeof RIGHTS)[number];

/**
 * What each role may do. `owner` is whoever reaches the program: pages and scripts. `desk` is another desk that comes in
 * over the network: it works what its slots are given to work, and nothing else.
 */
const MAY = {
  owner: new Set<Right>(RIGHTS),
  desk: new Set<Right>(['act']),
} as const satisfies Readonly<Record<string, ReadonlySet<Right>>>;
export type Role = keyof typeof MAY;
const ROLES = Object.keys(MAY) as [Role, ...Role[]];

/** Who asks for something: every client and every call is somebody. `name` tells those of one role apart. */
export const principalSchema = z.strictObject({ role: z.enum(ROLES), name: z.string().min(1).max(80) });
export type Principal = z.infer<typeof principalSchema>;

export const SCRIPT: Principal = { role: 'owner', name: 'script' };

/** Why somebody may not do something; null where they may. */
export const refusal = ({ role, name }: Principal, right: Right): Fault | null =>
  MAY[role].has(right)
    ? null
    : {
        code: 'NOT_ALLOWED',
        path: 'principal',
        message: `a ${role} may not ${WORDS[right]}`,
        received: name,
        remedy: 'Ask whoever runs this show.',
      };

const WORDS: Readonly<Record<Right, string>> = {
  see: 'look at the show',
  act: 'work the show',
  command: 'command what plays',
  edit: 'change the show',
  network: 'ask the network',
  shows: 'open, make or delete shows',
};

/** Throws FaultError (NOT_ALLOWED) where somebody may not do something. */
export function mustBeAllowed(by: Principal, right: Right): void {
  const fault = refusal(by, right);
  if (fault) throw new FaultError(fault);
}

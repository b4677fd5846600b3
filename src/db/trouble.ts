/** Why the database cannot do what was asked, where that is nobody's mistake: it is away, or the disk is full. */
export type DatabaseTrouble = 'away' | 'full';

/** SQLSTATE classes and codes (PostgreSQL, appendix A) and errors of the socket that mean "later". */
const AWAY = new Set([
  '57P01',
  '57P02',
  '57P03',
  '57P05',
  '25006',
  '53300',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
]);
const FULL = new Set(['53100', '58030', 'ENOSPC', 'EDQUOT']);
const WORDS =
  /Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error/i;

/** What kind of trouble an error is, looking through what wraps it; null for every other error. */
export function databaseTrouble(error: unknown): DatabaseTrouble | null {
  for (let at = error, depth = 0; at instanceof Error && depth < 8; at = at.cause, depth++) {
    const { code = '' } = at as { code?: string };
    if (FULL.has(code) || /No space left on device/i.test(at.message)) return 'full';
    if (AWAY.has(code) || code.startsWith('08') || WORDS.test(at.message)) return 'away';
  }
  return null;
}

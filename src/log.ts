import type { Logger, LoggerOptions } from 'pino';

/** The same message is written so often in a minute, then only counted: a log must not fill the disk it complains of. */
const OFTEN = 5;
const MINUTE_MS = 60_000;
/** Messages that are told apart. */
const KNOWN = 500;

/** Hooks for pino that hold back what is said again and again; once a minute it is said how often. */
export function limited(now: () => number = Date.now): NonNullable<LoggerOptions['hooks']> {
  const said = new Map<string, { count: number; since: number }>();
  return {
    logMethod(args, method, level) {
      const text = `${level} ${String(args[1] ?? args[0])}`;
      const entry = said.get(text);
      const at = now();
      if (!entry || at - entry.since > MINUTE_MS) {
        if (said.size >= KNOWN) said.clear();
        said.set(text, { count: 1, since: at });
        const held = entry ? entry.count - OFTEN : 0;
        if (held > 0 && typeof args[0] === 'object') args[0] = { ...(args[0] as object), heldBack: held };
      } else if (++entry.count > OFTEN) return;
      method.apply(this as Logger, args);
    },
  };
}

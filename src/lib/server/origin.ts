/** True when a request comes from a page of this server, or from no page at all (a script has no Origin). */
export function sameOrigin(origin: string | undefined | null, host: string | undefined | null): boolean {
  if (!origin) return true;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|\[::1\])$/;
const IP = /^(\d{1,3}(\.\d{1,3}){3}|\[[0-9a-f:.]+\])$/i;

/**
 * True when the Host header names this machine by address or as the configured host. A name that somebody else's DNS
 * points here is refused: it would make a foreign page "same origin".
 */
export function knownHost(host: string | undefined, bindHost: string): boolean {
  if (!host) return false;
  const name = host.replace(/:\d+$/, '');
  return LOOPBACK.test(name) || name === bindHost || (!LOOPBACK.test(bindHost) && IP.test(name));
}

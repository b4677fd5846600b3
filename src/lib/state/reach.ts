/** Where other devices reach this program: addresses of this machine on its networks, or none. */
export async function reach(): Promise<readonly string[]> {
  const answer = await fetch('/api/reach');
  if (!answer.ok) throw new Error('The addresses of this machine could not be read. Try again.');
  const { addresses } = (await answer.json()) as { addresses: string[] };
  // A page that was opened by an address of the network already knows one that works.
  const own = /^(localhost|127\.|\[::1\])/.test(location.host) ? [] : [location.origin];
  return [...new Set([...own, ...addresses])];
}

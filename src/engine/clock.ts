/**
 * The show clock of one thread: milliseconds since 1970, steady (it follows the monotonic clock from the moment it is
 * made, so a corrected wall clock never makes a show jump). Reading it allocates nothing.
 */
export function makeClock(): () => number {
  let offset = Infinity;
  // The smallest difference of several readings is the one with the least delay between them.
  for (let i = 0; i < 50; i++) offset = Math.min(offset, Date.now() - performance.now());
  const start = offset;
  return () => start + performance.now();
}

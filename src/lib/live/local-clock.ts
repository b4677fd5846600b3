/** Milliseconds since 1970 of this page and its workers: steady, whatever happens to the machine's clock. */
export const localMs = (): number => performance.timeOrigin + performance.now();

/** What every process of Amber Kite does alike: options from the environment, and an orderly end. */

/** An environment variable that the start command must have set. */
export function required(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; processes are started by "npm start", not by hand`);
  return value;
}

/** Ends the process through `stop` on SIGTERM, SIGINT or when the process that started it is gone. */
export function stopsWithParent(stop: () => Promise<void>): void {
  let stopping = false;
  const end = (): void => {
    if (stopping) return;
    stopping = true;
    const hard = setTimeout(() => process.exit(1), 5000);
    stop().then(
      () => {
        clearTimeout(hard);
        process.exit(0);
      },
      (error: unknown) => {
        console.error(error);
        process.exit(1);
      },
    );
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
  if (process.connected) process.on('disconnect', end);
}

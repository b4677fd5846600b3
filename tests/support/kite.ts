import { spawn } from 'node:child_process';

/** What a call of the headless command came to. */
export interface Ran {
  readonly code: number | null;
  readonly out: unknown;
  readonly fault: Record<string, unknown> | null;
}
/** Runs the headless command as people do, and reads what it says. */
export async function kite(...args: string[]): Promise<Ran> {
  const { code, out, err } = await called(args);
  const line = err.split('\n').find((l) => l.startsWith('{'));
  return {
    code,
    out: out === '' ? null : JSON.parse(out),
    fault: line ? (JSON.parse(line) as Record<string, unknown>) : null,
  };
}

/** The same for commands that say something line by line. */
export async function kiteLines(...args: string[]): Promise<unknown[]> {
  const { out } = await called(args);
  return out
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line) as unknown);
}

function called(args: readonly string[]): Promise<{ code: number | null; out: string; err: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn('./kite', args, { stdio: ['ignore', 'pipe', 'pipe'] });
    const text = { out: '', err: '' };
    child.stdout.on('data', (d: Buffer) => (text.out += d.toString()));
    child.stderr.on('data', (d: Buffer) => (text.err += d.toString()));
    child.on('error', reject);
    child.on('close', (code) => resolve({ code, ...text }));
  });
}

import { spawn } from 'node:child_process';

/** What a call of the headless command came to. */
export interface Ran {
  readonly code: number | null;
  readonly out: unknown;
  readonly fault: Record<string, unknown> | null;
}
/** Runs the headless command as people do, and reads what it says. */
export function kite(...args: string[]): Promise<Ran> {
  return new Promise((resolve, reject) => {
    const child = spawn('./kite', args, { stdio: ['ignore', 'pipe', 'pipe'] });
    const text = { out: '', err: '' };
    child.stdout.on('data', (d: Buffer) => (text.out += d.toString()));
    child.stderr.on('data', (d: Buffer) => (text.err += d.toString()));
    child.on('error', reject);
    child.on('close', (code) => {
      const line = text.err.split('\n').find((l) => l.startsWith('{'));
      resolve({
        code,
        out: text.out === '' ? null : JSON.parse(text.out),
        fault: line ? (JSON.parse(line) as Record<string, unknown>) : null,
      });
    });
  });
}

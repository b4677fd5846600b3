import { spawn } from 'node:child_process';

/** A sound card of this machine. */
export interface SoundCard {
  /** As ALSA names it, such as `plughw:1,0`. */
  readonly device: string;
  readonly name: string;
}

/** The cards of this machine that can be listened to, or played on; none without alsa-utils. */
export function soundCards(way: 'in' | 'out'): Promise<SoundCard[]> {
  return new Promise((resolve) => {
    const child = spawn(way === 'in' ? 'arecord' : 'aplay', ['-l'], {
      stdio: ['ignore', 'pipe', 'ignore'],
      timeout: 3000,
    });
    let said = '';
    child.stdout.on('data', (piece: Buffer) => (said += piece.toString()));
    child.on('error', () => resolve([]));
    child.on('close', () => resolve(cardsOf(said)));
  });
}

/** The lines of `arecord -l` and `aplay -l` that name a device. */
export const cardsOf = (said: string): SoundCard[] =>
  [...said.matchAll(/^card (\d+): [^[]*\[([^\]]*)\], device (\d+): [^[]*\[([^\]]*)\]/gm)].map(
    ([, card, cardName, device, deviceName]) => ({
      device: `plughw:${card},${device}`,
      name: `${cardName}${deviceName && deviceName !== cardName ? `, ${deviceName}` : ''}`,
    }),
  );

/** Time code (SMPTE ST 12-1): hours, minutes, seconds and frames, and what they come to. */

/** Frames a second, as time code counts them; `29.97 drop` leaves out two frame numbers a minute but for every tenth. */
export const CODE_RATES = ['24', '25', '29.97 drop', '30'] as const;
export type CodeRate = (typeof CODE_RATES)[number];
export const framesIn = (rate: CodeRate): number => (rate === '24' ? 24 : rate === '25' ? 25 : 30);
/** How long a frame is, seconds. */
export const frameS = (rate: CodeRate): number => (rate === '29.97 drop' ? 1001 / 30_000 : 1 / framesIn(rate));

export interface TimeCode {
  readonly hours: number;
  readonly minutes: number;
  readonly seconds: number;
  readonly frames: number;
  readonly rate: CodeRate;
}

/** Seconds since 0:00:00:00. */
export function codeSeconds({ hours, minutes, seconds, frames, rate }: TimeCode): number {
  const whole = hours * 60 + minutes;
  const count = (whole * 60 + seconds) * framesIn(rate) + frames;
  const dropped = rate === '29.97 drop' ? 2 * (whole - Math.floor(whole / 10)) : 0;
  return rate === '29.97 drop' ? (count - dropped) * frameS(rate) : count / framesIn(rate);
}

/** The code of a moment (the frame it lies in), the other way round. */
export function codeAt(at: number, rate: CodeRate): TimeCode {
  const fps = framesIn(rate);
  let count = Math.floor(at / frameS(rate) + 1e-6);
  if (rate === '29.97 drop') {
    const tens = Math.floor(count / 17_982);
    const rest = count % 17_982;
    count += 18 * tens + (rest < 2 ? 0 : 2 * Math.floor((rest - 2) / 1798));
  }
  const seconds = Math.floor(count / fps);
  return {
    hours: Math.floor(seconds / 3600) % 24,
    minutes: Math.floor(seconds / 60) % 60,
    seconds: seconds % 60,
    frames: count % fps,
    rate,
  };
}

/** True where the numbers are those of a frame there is. */
export const isCode = ({ hours, minutes, seconds, frames, rate }: TimeCode): boolean =>
  hours < 24 &&
  minutes < 60 &&
  seconds < 60 &&
  frames < framesIn(rate) &&
  !(rate === '29.97 drop' && frames < 2 && seconds === 0 && minutes % 10 !== 0);

const two = (n: number): string => String(n).padStart(2, '0');
/** `01:02:03:04`; with `;` before the frames where numbers are left out. */
export const codeText = ({ hours, minutes, seconds, frames, rate }: TimeCode): string =>
  `${two(hours)}:${two(minutes)}:${two(seconds)}${rate === '29.97 drop' ? ';' : ':'}${two(frames)}`;

/** Reads `01:02:03:04` (or `1:02:03`, or `01:02:03.5`) at a rate, as seconds; null for anything else. */
export function readCode(text: string, rate: CodeRate): number | null {
  const found = /^(\d{1,2})[:.](\d{1,2})[:.](\d{1,2})(?:[:;](\d{1,2})|([.,]\d{1,6}))?$/.exec(text.trim());
  if (!found) return null;
  const [, h, m, s, f, part] = found;
  const code = { hours: Number(h), minutes: Number(m), seconds: Number(s), frames: Number(f ?? 0), rate };
  return isCode(code) ? codeSeconds(code) + Number((part ?? '0').replace(',', '.')) : null;
}

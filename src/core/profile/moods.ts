import type { ProfileRecord } from '../records/index.ts';
import { MOODS, type Channel, type Range } from '../records/profile.ts';
import type { PlainValue } from '../records/value.ts';

/** A channel's values from calm to peak; null leaves it at rest. */
export type MoodRow = readonly (PlainValue | null)[];

/** Channels an automatic program cannot work out from colour, level and aim alone. */
const SPECIAL =
  /^(Effects\d+|Effects\d+(Rate|PosRotate|Pos|Fade)|Macro\d+|MacroRate|ColorMacro\d+|Gobo\d+(PosRotate|WheelSpin|PosShake)?|Prism\d+(PosRotate)?|AnimationWheel\d+|PositionEffect|PositionEffectRate|PanRotate|TiltRotate|Fan\d+|Fog\d+|Haze\d+|Video|Shutter\d+|StrobeRate)$/;

export const isSpecial = (channel: Channel): boolean => SPECIAL.test(channel.attribute);

/** Channels of a profile that have a place in the mood row. */
export const moodChannels = (profile: ProfileRecord): Channel[] => profile.channels.filter(isSpecial);

/** How much of full speed each mood gets. */
const SPEEDS = [0, 0.2, 0.45, 0.75, 1] as const;
const STILL = /\b(stop|off|none|no function|open|out|rest|closed|standing|still)\b/i;
const SOUND = /\b(sound|audio|music|auto)\b/i;

/**
 * A first guess from a channel's ranges: at rest when calm, then a range that goes from slow to fast in the direction
 * that is named first, faster with each mood. Strobes stay out of it until the peak; fixed patterns change from one to
 * the next. Null where the channel gives nothing to go by.
 */
export function guessMood(channel: Channel): MoodRow | null {
  if (!isSpecial(channel)) return null;
  const usable = channel.ranges.filter((r) => !SOUND.test(r.name));
  if (usable.length === 0)
    return channel.ranges.length === 0 && /^(Fog|Haze|Fan)\d/.test(channel.attribute) ? plain() : null;
  const shutter = /^(Shutter|StrobeRate)/.test(channel.attribute);
  // A shutter that is closed is at rest too, but no mood is dark.
  const still =
    usable.find((r) => r.light === 'open') ??
    usable.find(
      (r) =>
        r.light !== 'closed' &&
        !(shutter && /closed/i.test(r.name)) &&
        (STILL.test(r.name) || (r.physical && r.physical.from === 0 && r.physical.to === 0)),
    );
  const rest = still ? { range: still.name, at: 0.5 } : null;
  if (shutter) {
    const strobe = usable.find((r) => r.light === 'strobe' && /slow|fast|strobe/i.test(r.name) && r.to - r.from >= 8);
    return strobe && still ? [rest, rest, rest, rest, { range: strobe.name, at: 0.6 }] : null;
  }
  const moving = usable.find((r) => r !== still && isSpeed(r));
  if (moving) {
    const down = fastFirst(moving);
    return SPEEDS.map((speed) => (speed === 0 ? rest : { range: moving.name, at: down ? 1 - speed : speed }));
  }
  const fixed = usable.filter((r) => r !== still);
  if (fixed.length < 2) return null;
  return MOODS.map((_, i) => (i === 0 ? rest : { range: fixed[Math.min(fixed.length - 1, i - 1)]!.name, at: 0.5 }));
}

const plain = (): MoodRow => [0, 0.15, 0.3, 0.45, 0.6];

const isSpeed = (range: Range): boolean =>
  range.to - range.from >= 15 &&
  (/slow|fast|speed|turn|rotat|spin|forward|clockwise|shak|haze|fan/i.test(range.name) ||
    ['hz', 'rpm', 'deg/s', 'percent'].includes(range.physical?.unit ?? ''));

/** True where the range begins fast and ends slow. */
function fastFirst(range: Range): boolean {
  if (range.physical) return Math.abs(range.physical.from) > Math.abs(range.physical.to);
  const [slow, fast] = [range.name.search(/slow/i), range.name.search(/fast/i)];
  return fast >= 0 && slow > fast;
}

/** The rows of a profile: what somebody wrote down, and a guess where nobody did. */
export function moodsOf(profile: ProfileRecord): { channel: Channel; row: MoodRow | null; guessed: boolean }[] {
  return moodChannels(profile).map((channel) => {
    const written = profile.moods[channel.key];
    return written ? { channel, row: written, guessed: false } : { channel, row: guessMood(channel), guessed: true };
  });
}

import type { Range } from '../records/profile.ts';

/** What the words of a manual say about a range: its colour, what a shutter lets through, physical ends. */

const COLOURS: readonly (readonly [word: RegExp, hex: string])[] = [
  [/\b(warm white|ww)\b/, '#ffe0b0'],
  [/\b(cool white|cold white|cw)\b/, '#dfeaff'],
  [/\b(white|open)\b/, '#ffffff'],
  [/\b(dark|deep|royal) blue\b|\bcongo\b/, '#2020d0'],
  [/\b(light|sky|pale) blue\b/, '#70c0ff'],
  [/\b(dark|deep) green\b/, '#108030'],
  [/\b(light|pale) green\b/, '#80f080'],
  [/\bred\b/, '#f02020'],
  [/\borange\b/, '#ff8020'],
  [/\bamber\b/, '#ffb020'],
  [/\byellow\b/, '#ffe820'],
  [/\blime\b/, '#b0ff30'],
  [/\bgreen\b/, '#20c040'],
  [/\b(turquoise|teal)\b/, '#20d0b0'],
  [/\b(cyan|aqua)\b/, '#20e0f0'],
  [/\bblue\b/, '#2050f0'],
  [/\b(uv|ultraviolet)\b/, '#5010c0'],
  [/\b(violet|purple|lavender)\b/, '#9040f0'],
  [/\bmagenta\b/, '#f020d0'],
  [/\b(pink|rose)\b/, '#ff70b0'],
  [/\b(cto|ctb)\b/, '#ffd090'],
];

/** The colour a name speaks of, or null. `red + blue` and `red/blue` give two: a half colour. */
export function guessColours(name: string): { colour: string; colour2?: string } | null {
  const find = (text: string): string | null => COLOURS.find(([word]) => word.test(text))?.[1] ?? null;
  const lower = name.toLowerCase();
  const parts = lower.split(/\s*(?:\+|\/|&|\band\b)\s*/);
  const [first, second] = parts.map(find);
  if (parts.length === 2 && first && second) return { colour: first, colour2: second };
  const colour = find(lower);
  return colour && !/rainbow|scroll|rotat|spin|turn|chase|cycle|fade|change|macro|strobe/.test(lower)
    ? { colour }
    : null;
}

/** What a shutter range lets through, from its name. */
export function guessLight(name: string): Range['light'] {
  const lower = name.toLowerCase();
  if (/\b(no|without) (strobe|flash|effect|function)/.test(lower)) return 'open';
  if (/strobe|flash|pulse|lightning|random|shake/.test(lower)) return 'strobe';
  if (/closed?\b|black ?out|\bdark\b|\bno light/.test(lower)) return 'closed';
  if (/\bopen|\bfull\b|\bon\b/.test(lower)) return 'open';
  return undefined;
}

const UNITS: readonly (readonly [written: RegExp, unit: NonNullable<Range['physical']>['unit']])[] = [
  [/^(hz|hertz|fps|flashes\/s)$/, 'hz'],
  [/^(rpm|r\/min|u\/min)$/, 'rpm'],
  [/^(°\/s|deg\/s)$/, 'deg/s'],
  [/^(°|deg|degrees?)$/, 'deg'],
  [/^(%|percent)$/, 'percent'],
  [/^(k|kelvin)$/, 'kelvin'],
  [/^(s|sec|seconds?)$/, 'second'],
];
const NUMBER = '(-?\\d+(?:[.,]\\d+)?)';
const SPAN = new RegExp(
  `${NUMBER}\\s*([°%a-z/]*)\\s*(?:-|\\u2013|\\u2014|\\.\\.|\\u2026|to|->|\\u2192|>)\\s*${NUMBER}\\s*([°%a-z/]+)`,
  'i',
);

/** `1-20 Hz`, `0..360°`, `2700 K to 6500 K` in a name, as the physical ends of its range. */
export function guessPhysical(name: string): Range['physical'] {
  const found = SPAN.exec(name);
  if (!found) return undefined;
  const unit = UNITS.find(([written]) => written.test(found[4]!.toLowerCase()))?.[1];
  const value = (text: string): number => Number(text.replace(',', '.'));
  return unit ? { from: value(found[1]!), to: value(found[3]!), unit } : undefined;
}

/** Fills in what the name of a range says and the range does not have yet, as the attribute makes sense of it. */
export function guessRange(range: Range, attribute: string): Range {
  const colours = range.colour === undefined && /^Color(Macro)?\d/.test(attribute) ? guessColours(range.name) : null;
  const light = range.light === undefined && /^Shutter\d/.test(attribute) ? guessLight(range.name) : undefined;
  const physical = range.physical === undefined ? guessPhysical(range.name) : undefined;
  return { ...range, ...colours, ...(light ? { light } : {}), ...(physical ? { physical } : {}) };
}

const ATTRIBUTES: readonly (readonly [RegExp, string])[] = [
  [/dimmer|level|intensity|brightness|master/i, 'Dimmer'],
  [/pan.*tilt.*speed|speed.*pan/i, 'PanTiltSpeed'],
  [/\bpan\b/i, 'Pan'],
  [/\btilt\b/i, 'Tilt'],
  [/\bred\b/i, 'ColorAdd_R'],
  [/\bgreen\b/i, 'ColorAdd_G'],
  [/\bblue\b/i, 'ColorAdd_B'],
  [/warm white/i, 'ColorAdd_WW'],
  [/(cool|cold) white/i, 'ColorAdd_CW'],
  [/\bwhite\b/i, 'ColorAdd_W'],
  [/\bamber\b/i, 'ColorAdd_RY'],
  [/\buv\b|ultraviolet/i, 'ColorAdd_UV'],
  [/\bcyan\b/i, 'ColorSub_C'],
  [/\bmagenta\b/i, 'ColorSub_M'],
  [/\byellow\b/i, 'ColorSub_Y'],
  [/strobe|shutter|flash/i, 'Shutter1'],
  [/colou?r.*wheel|wheel.*colou?r|^colou?r$/i, 'Color1'],
  [/colou?r.*(macro|program)/i, 'ColorMacro1'],
  [/gobo.*(rot|turn|index)/i, 'Gobo1Pos'],
  [/gobo/i, 'Gobo1'],
  [/prism/i, 'Prism1'],
  [/zoom/i, 'Zoom'],
  [/focus/i, 'Focus1'],
  [/iris/i, 'Iris'],
  [/frost/i, 'Frost1'],
  [/haze/i, 'Haze1'],
  [/fog|smoke/i, 'Fog1'],
  [/\bfan\b/i, 'Fan1'],
  [/rotat|turn|motor/i, 'Effects1PosRotate'],
  [/macro|program|auto|show/i, 'Macro1'],
  [/reset|control|function/i, 'Control1'],
];

/** The attribute a channel's name speaks of; `NoFeature` where it says nothing known. */
export const guessAttribute = (name: string): string =>
  ATTRIBUTES.find(([word]) => word.test(name))?.[1] ?? 'NoFeature';

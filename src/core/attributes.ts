/**
 * Attributes: what a channel does, under its canonical name in GDTF (DIN SPEC 15800, Annex A) and in people's words.
 * `{n}` stands for a running number from 1. Everything downstream speaks attributes, never channel numbers.
 */
export type AttributeFamily = 'level' | 'colour' | 'aim' | 'beam' | 'effect' | 'control';

export interface AttributeInfo {
  readonly name: string;
  readonly words: string;
  readonly family: AttributeFamily;
  /** Levels merge highest-takes-precedence, all else latest-takes-precedence. */
  readonly merge: 'htp' | 'ltp';
}

const TABLE: readonly (readonly [pattern: string, words: string, family: AttributeFamily])[] = [
  ['Dimmer', 'Level', 'level'],
  ['Shutter{n}', 'Shutter {n}', 'level'],
  ['Shutter{n}Strobe', 'Strobe {n}', 'level'],
  ['Shutter{n}StrobePulse', 'Pulse {n}', 'level'],
  ['Shutter{n}StrobeRandom', 'Random strobe {n}', 'level'],
  ['StrobeDuration', 'Flash length', 'level'],
  ['StrobeRate', 'Strobe rate', 'level'],
  ['ColorRGB_Red', 'Red of the colour', 'colour'],
  ['ColorRGB_Green', 'Green of the colour', 'colour'],
  ['ColorRGB_Blue', 'Blue of the colour', 'colour'],
  ['ColorAdd_R', 'Red', 'colour'],
  ['ColorAdd_G', 'Green', 'colour'],
  ['ColorAdd_B', 'Blue', 'colour'],
  ['ColorAdd_C', 'Cyan emitter', 'colour'],
  ['ColorAdd_M', 'Magenta emitter', 'colour'],
  ['ColorAdd_Y', 'Yellow emitter', 'colour'],
  ['ColorAdd_RY', 'Amber', 'colour'],
  ['ColorAdd_GY', 'Lime', 'colour'],
  ['ColorAdd_W', 'White', 'colour'],
  ['ColorAdd_WW', 'Warm white', 'colour'],
  ['ColorAdd_CW', 'Cool white', 'colour'],
  ['ColorAdd_UV', 'Ultraviolet', 'colour'],
  ['ColorSub_C', 'Cyan filter', 'colour'],
  ['ColorSub_M', 'Magenta filter', 'colour'],
  ['ColorSub_Y', 'Yellow filter', 'colour'],
  ['CTO', 'Warm filter', 'colour'],
  ['CTB', 'Cool filter', 'colour'],
  ['CTC', 'Colour temperature', 'colour'],
  ['Tint', 'Tint', 'colour'],
  ['Color{n}', 'Colour wheel {n}', 'colour'],
  ['Color{n}WheelSpin', 'Colour wheel {n} turning', 'colour'],
  ['ColorMacro{n}', 'Colour program {n}', 'colour'],
  ['ColorMacro{n}Rate', 'Colour program {n} speed', 'colour'],
  ['Pan', 'Pan', 'aim'],
  ['Tilt', 'Tilt', 'aim'],
  ['PanRotate', 'Pan turning', 'aim'],
  ['TiltRotate', 'Tilt turning', 'aim'],
  ['PositionEffect', 'Movement program', 'aim'],
  ['PositionEffectRate', 'Movement program speed', 'aim'],
  ['PositionMSpeed', 'Movement speed', 'aim'],
  ['PanTiltSpeed', 'Pan and tilt speed', 'aim'],
  ['Gobo{n}', 'Gobo {n}', 'beam'],
  ['Gobo{n}Pos', 'Gobo {n} turn', 'beam'],
  ['Gobo{n}PosRotate', 'Gobo {n} turning', 'beam'],
  ['Gobo{n}PosShake', 'Gobo {n} shake', 'beam'],
  ['Gobo{n}WheelSpin', 'Gobo wheel {n} turning', 'beam'],
  ['Zoom', 'Zoom', 'beam'],
  ['Focus{n}', 'Focus {n}', 'beam'],
  ['Iris', 'Iris', 'beam'],
  ['IrisPulse', 'Iris pulse', 'beam'],
  ['Frost{n}', 'Frost {n}', 'beam'],
  ['Prism{n}', 'Prism {n}', 'beam'],
  ['Prism{n}Pos', 'Prism {n} turn', 'beam'],
  ['Prism{n}PosRotate', 'Prism {n} turning', 'beam'],
  ['AnimationWheel{n}', 'Animation wheel {n}', 'beam'],
  ['Effects{n}', 'Effect {n}', 'effect'],
  ['Effects{n}Rate', 'Effect {n} speed', 'effect'],
  ['Effects{n}Fade', 'Effect {n} fade', 'effect'],
  ['Effects{n}Adjust{m}', 'Effect {n} adjustment {m}', 'effect'],
  ['Effects{n}Pos', 'Effect {n} turn', 'effect'],
  ['Effects{n}PosRotate', 'Effect {n} turning', 'effect'],
  ['EffectsSync', 'Effect synchronisation', 'effect'],
  ['LEDFrequency', 'LED frequency', 'control'],
  ['SoundActive', 'Sound control', 'effect'],
  ['Macro{n}', 'Program {n}', 'effect'],
  ['MacroRate', 'Program speed', 'effect'],
  ['Fan{n}', 'Fan {n}', 'effect'],
  ['Fog{n}', 'Fog {n}', 'effect'],
  ['Haze{n}', 'Haze {n}', 'effect'],
  ['Video', 'Pattern source', 'effect'],
  ['Control{n}', 'Control {n}', 'control'],
  ['Function', 'Function', 'control'],
  ['DimmerMode', 'Dimmer mode', 'control'],
  ['DimmerCurve', 'Dimmer curve', 'control'],
  ['FixtureGlobalReset', 'Reset', 'control'],
  ['LampControl', 'Lamp', 'control'],
  ['NoFeature', 'No function', 'control'],
];

const EXACT = new Map<string, AttributeInfo>();
const NUMBERED: { readonly test: RegExp; readonly words: string; readonly family: AttributeFamily }[] = [];
for (const [pattern, words, family] of TABLE) {
  if (!pattern.includes('{')) EXACT.set(pattern, { name: pattern, words, family, merge: mergeOf(pattern) });
  else NUMBERED.push({ test: new RegExp(`^${pattern.replace(/\{[nm]\}/g, '([1-9]\\d?)')}$`), words, family });
}

function mergeOf(name: string): 'htp' | 'ltp' {
  return name === 'Dimmer' ? 'htp' : 'ltp';
}

/** The list of patterns with their words, in the order people expect to find them. */
export const ATTRIBUTE_PATTERNS = TABLE.map(([pattern, words, family]) => ({ pattern, words, family }));

const cache = new Map<string, AttributeInfo | null>();
const CACHE_LIMIT = 2000;

/** What is known of an attribute name (without `#cell`), or null when it is not a name of GDTF that we keep. */
export function attributeInfo(name: string): AttributeInfo | null {
  const known = EXACT.get(name) ?? cache.get(name);
  if (known !== undefined) return known;
  let info: AttributeInfo | null = null;
  for (const { test, words, family } of NUMBERED) {
    const found = test.exec(name);
    if (!found) continue;
    const first = found[1] === '1' && !found[2] ? '' : found[1]!;
    info = {
      name,
      words: words
        .replace('{n}', first)
        .replace('{m}', found[2] ?? '')
        .replace(/\s+/g, ' ')
        .trim(),
      family,
      merge: mergeOf(name),
    };
    break;
  }
  if (cache.size >= CACHE_LIMIT) cache.clear();
  cache.set(name, info);
  return info;
}

export const isAttribute = (name: string): boolean => attributeInfo(name) !== null;

/** `Dimmer#3` -> attribute `Dimmer`, cell 3. Cell 0 is the whole unit. */
export function splitAttributeKey(key: string): { attribute: string; cell: number } {
  const hash = key.indexOf('#');
  return hash < 0 ? { attribute: key, cell: 0 } : { attribute: key.slice(0, hash), cell: Number(key.slice(hash + 1)) };
}

export const attributeKey = (attribute: string, cell: number): string =>
  cell === 0 ? attribute : `${attribute}#${cell}`;

/** Virtual colour in linear light that any colour-mixing unit takes, whatever emitters or filters it has. */
export const COLOUR_ATTRIBUTES = ['ColorRGB_Red', 'ColorRGB_Green', 'ColorRGB_Blue'] as const;

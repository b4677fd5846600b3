import type { ProfileRecord } from '$core/records/index.ts';

/** How far a channel of pan or tilt turns, about its middle; null for other channels, or where nobody said it. */
export function sweepOf(
  attribute: string,
  { panDeg, tiltDeg }: ProfileRecord['physical'],
): { readonly from: number; readonly to: number; readonly unit: string } | null {
  const deg = attribute === 'Pan' ? panDeg : attribute === 'Tilt' ? tiltDeg : undefined;
  return deg === undefined ? null : { from: -deg / 2, to: deg / 2, unit: 'deg' };
}

/** What a place (0-1) in a physical range means, with its unit: `3.4 Hz`, `12 rpm`, `45°`. */
export function physicalWords(
  physical: { readonly from: number; readonly to: number; readonly unit: string },
  at: number,
): string {
  const value = physical.from + (physical.to - physical.from) * at;
  const digits = Math.abs(value) < 10 && physical.unit !== 'percent' && physical.unit !== 'deg' ? 1 : 0;
  const number = value.toFixed(Math.abs(value) < 0.1 && value !== 0 ? 3 : digits);
  switch (physical.unit) {
    case 'percent':
      return `${number} %`;
    case 'deg':
      return `${number}°`;
    case 'hz':
      return `${number} Hz`;
    case 'kelvin':
      return `${number} K`;
    case 'second':
      return `${number} s`;
    default:
      return physical.unit ? `${number} ${physical.unit}` : number;
  }
}

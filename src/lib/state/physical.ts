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

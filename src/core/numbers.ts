/** A whole number as people write it: spaces and thousands separators do no harm. Null for anything else. */
export function readWhole(text: string): number | null {
  const cleaned = text.trim().replace(/(?<=\d)[\s\u00a0\u202f'’](?=\d{3}\b)/g, '');
  const plain = /^[+-]?\d{1,3}(,\d{3})+$/.test(cleaned) ? cleaned.replace(/,/g, '') : cleaned;
  return /^[+-]?\d{1,15}(\.0+)?$/.test(plain) ? Number(plain) : null;
}

/** A number with a point or a decimal comma; null for anything else. */
export function parseNumber(text: string): number | null {
  const cleaned = text.trim().replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(cleaned) ? Number(cleaned) : null;
}

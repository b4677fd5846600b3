/** A key made of a name that nothing else has: letters and digits, at most 40 long before a running number. */
export function freeKey(name: string, taken: readonly string[], otherwise = 'x'): string {
  const base = name.replace(/[^A-Za-z0-9]+/g, '').slice(0, 40) || otherwise;
  let key = base;
  for (let n = 2; taken.includes(key); n++) key = `${base}${n}`;
  return key;
}

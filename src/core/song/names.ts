/** What a song is called by its file: without folders, ending and underscores; 1-100 characters. */
export function nameOfFile(file: string): string {
  const base = file
    .split(/[\\/]/)
    .at(-1)!
    .replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const name = base
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cs}\ufffd]/gu, '')
    .replace(/_/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 100)
    .toWellFormed();
  return name || 'Song';
}

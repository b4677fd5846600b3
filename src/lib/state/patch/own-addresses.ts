import QRCode from 'qrcode';

/** Where other devices reach this program: addresses of this machine on its networks, or none. */
export async function reach(): Promise<readonly string[]> {
  const answer = await fetch('/api/addresses');
  if (!answer.ok) throw new Error('The addresses of this machine could not be read. Try again.');
  const { addresses } = (await answer.json()) as { addresses: string[] };
  // A page that was opened by an address of the network already knows one that works.
  const own = /^(localhost|127\.|\[::1\])/.test(location.host) ? [] : [location.origin];
  return [...new Set([...own, ...addresses])];
}

/** A QR code as the address of a picture. `margin` is the quiet zone round it, in modules. */
export async function qrPicture(text: string, margin: number): Promise<string> {
  const svg = await QRCode.toString(text, { type: 'svg', margin, errorCorrectionLevel: 'M' });
  return `data:image/svg+xml;utf8,${encodeURIComponent(svg)}`;
}

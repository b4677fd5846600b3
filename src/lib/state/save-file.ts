/** Gives a file to this computer, as the browser does it. */
export function saveFile(bytes: Uint8Array, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([bytes as BlobPart], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}

/** A name that every file system takes. */
export const fileName = (text: string): string => text.replace(/[^\p{L}\p{N} _@-]+/gu, '').trim() || 'file';

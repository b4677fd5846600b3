export type Paper = 'A4' | 'letter';
export const PAPERS: readonly { readonly value: Paper; readonly text: string }[] = [
  { value: 'A4', text: 'A4' },
  { value: 'letter', text: 'Letter' },
];

/** Says the size of the paper, which only a style sheet of its own can; gives how to take it back. */
export function setPaper(size: string, marginMm = 12): () => void {
  const style = document.createElement('style');
  style.textContent = `@page { size: ${size}; margin: ${marginMm}mm; }`;
  document.head.append(style);
  return () => style.remove();
}

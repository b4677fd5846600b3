import type { UnitOrder } from '$core/records/group.ts';

/** Orders of units in people's words. */
export const ORDER_WORDS: readonly { readonly value: UnitOrder; readonly text: string }[] = [
  { value: 'number', text: 'by number' },
  { value: 'plot', text: 'left to right on the plot' },
  { value: 'serpentine', text: 'row by row, there and back' },
  { value: 'line', text: 'in cable order' },
  { value: 'name', text: 'by name' },
  { value: 'address', text: 'by address' },
];

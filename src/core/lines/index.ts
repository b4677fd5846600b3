export { CONNECTOR_WORDS, lineFaults, type LineFault } from './faults.ts';
export { packingList, type PackingItem } from './packing.ts';
export { pixelPort, type PixelPort } from './pixels.ts';
export { cableOf, resolveLine, type Drop, type ResolvedLine } from './run.ts';
export { rangeWords } from './path-devices.ts';
export type { LinkState, PathLink } from './path-link.ts';
export { signalPath, type SignalPath } from './path.ts';
export { compareRdm, type RdmRow, type RdmVerdict } from './rdm-compare.ts';

export { CONNECTOR_WORDS, lineFaults, type LineFault } from './cables/faults.ts';
export { packingList, type PackingItem } from './cables/packing.ts';
export { pixelPort, type PixelPort } from './cables/pixels.ts';
export { cableOf, resolveLine, type Drop, type ResolvedLine } from './cables/run.ts';
export { rangeWords } from './path/path-devices.ts';
export type { LinkState, PathLink } from './path/path-link.ts';
export { signalPath, type SignalPath } from './path/path.ts';
export { compareRdm, type RdmRow, type RdmVerdict } from './rdm/rdm-compare.ts';

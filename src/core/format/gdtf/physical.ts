import type { ProfileRecord } from '../../records/index.ts';
import { childOf, numberOf, parts, textOf, type Element } from './xml.ts';

/** Measures of a fixture type: size, mass, light and ranges of movement. What we have no place for is told. */
export function readPhysical(
  type: Element,
  geometries: Element | undefined,
  modes: readonly Element[],
  notKept: (line: string) => void,
): ProfileRecord['physical'] {
  const model = childOf(childOf(type, 'Models'), 'Model');
  const properties = childOf(childOf(type, 'PhysicalDescriptions'), 'Properties');
  const beam = [...parts(geometries)].find(([kind]) => kind === 'Beam')?.[1];
  const sweep = (attribute: string): number | null => {
    for (const [kind, f] of modes.flatMap((m) => [...parts(m)])) {
      if (kind !== 'ChannelFunction' || textOf(f, 'Attribute') !== attribute) continue;
      const [from, to] = [numberOf(f, 'PhysicalFrom'), numberOf(f, 'PhysicalTo')];
      if (from !== null && to !== null && Math.abs(to - from) > 2) return Math.abs(to - from);
    }
    return null;
  };
  const mm = (name: string): number | null => {
    const value = numberOf(model, name);
    return value === null || value <= 0 ? null : Math.round(value * 1000);
  };
  for (const name of ['ColorTemperature', 'BeamRadius', 'ColorRenderingIndex', 'LampType'])
    if (textOf(beam, name) !== '') notKept(`${name} ${textOf(beam, name).slice(0, 40)} of the beam`);
  const beams = [...parts(geometries)].filter(([kind]) => kind === 'Beam').length;
  if (beams > 1) notKept(`light of ${beams} beams: that of the first is kept`);
  const described = childOf(type, 'PhysicalDescriptions');
  for (const [name, list] of Object.entries(described?.children ?? {})) {
    if (name === 'Properties') {
      for (const property of Object.keys(list[0]?.children ?? {}))
        if (property !== 'Weight') notKept(`${property.slice(0, 60)} of the physical properties`);
    } else {
      const items = list.reduce((sum, e) => sum + [...parts(e)].length, 0);
      if (items > 0 || list.some((e) => Object.keys(e.attributes).length > 0))
        notKept(`${name.slice(0, 60)} of the physical descriptions (luminous values, spectra, curves)`);
    }
  }
  const found: Record<string, number | null> = {
    widthMm: mm('Width'),
    depthMm: mm('Length'),
    heightMm: mm('Height'),
    massKg: numberOf(childOf(properties, 'Weight'), 'Value'),
    powerW: numberOf(beam, 'PowerConsumption') || null,
    beamDeg: numberOf(beam, 'BeamAngle'),
    fieldDeg: numberOf(beam, 'FieldAngle'),
    fluxLm: numberOf(beam, 'LuminousFlux') || null,
    panDeg: sweep('Pan'),
    tiltDeg: sweep('Tilt'),
  };
  return Object.fromEntries(Object.entries(found).filter(([, v]) => v !== null && v >= 0)) as ProfileRecord['physical'];
}

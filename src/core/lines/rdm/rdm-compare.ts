import { getRecord, recordsOf, type Document } from '../../document/change.ts';
import type { UnitId } from '../../ids.ts';
import { patchOf, placeOf } from '../../patch/of-document.ts';
import { footprintOf } from '../../profile/layout.ts';
import type { FoundRdm } from '../../protocol/network.ts';
import type { ProfileRecord, UnitRecord } from '../../records/index.ts';

/**
 * How a found device and the patch agree. `differs`: address or mode are others. `unknown`: it is in no unit of the
 * patch. `missing`: a unit whose device was not found.
 */
export type RdmVerdict = 'matches' | 'differs' | 'unknown' | 'missing' | 'faulty' | 'lost' | 'reading';

export interface RdmRow {
  readonly device: FoundRdm | null;
  readonly unit: UnitRecord | null;
  /** True where somebody said that the device is this unit; false where address and footprint alone say so. */
  readonly sure: boolean;
  /** A unit that it probably is, for an unknown device. */
  readonly suggestion: UnitRecord | null;
  readonly verdict: RdmVerdict;
  /** What the patch wants: our universe, start address, slots. */
  readonly wanted: { readonly universe: number; readonly address: number; readonly footprint: number } | null;
  readonly addressDiffers: boolean;
  readonly modeDiffers: boolean;
  /** Universe of ours that reaches the device; null where no route does. */
  readonly universe: number | null;
  /** Personality of the device with as many slots as the unit's mode; null where it has none or several. */
  readonly personality: number | null;
  /** Mode of the unit's profile with as many slots as the device takes now; null where there is none or several. */
  readonly mode: string | null;
}

/** Our universe behind a port of a gateway; null where nothing is routed there. */
function universeOf(document: Document, ip: string, portAddress: number): number | null {
  for (const route of recordsOf(document, 'route')) {
    const output = getRecord(document, 'output', route.outputId);
    if (output?.protocol !== 'artnet' || route.wireUniverse !== portAddress) continue;
    if (output.delivery !== 'listed' || output.destinations.includes(ip)) return route.universe;
  }
  return null;
}

const only = <T>(list: readonly T[]): T | null => (list.length === 1 ? list[0]! : null);
const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');

/**
 * Compares found devices with the patch. A unit that names a UID is that device. Otherwise a device at the start
 * address of a unit of the same footprint counts as that unit; for the rest a free unit of the same model is suggested.
 * What has to be looked at comes first; units of the same universes that no device answers for come last.
 */
export function compareRdm(document: Document, devices: readonly FoundRdm[]): RdmRow[] {
  const patch = patchOf(document);
  const units = recordsOf(document, 'unit').toSorted((a, b) => a.number - b.number);
  const facts = new Map(
    units.map((unit) => {
      const place = placeOf(patch.get(unit.id));
      const profile = getRecord(document, 'profile', unit.profileId);
      const mode = profile?.modes.find((m) => m.key === unit.mode);
      return [unit.id, { unit, place, profile, footprint: mode ? footprintOf(mode) : 0 }] as const;
    }),
  );
  const byPlace = new Map<string, UnitRecord[]>();
  for (const { unit, place } of facts.values()) {
    if (!place) continue;
    const key = `${place.universe}.${place.address}`;
    byPlace.set(key, [...(byPlace.get(key) ?? []), unit]);
  }
  const claimed = new Set<UnitId>();
  const byUid = new Map(units.filter((u) => u.rdmUid).map((u) => [u.rdmUid, u]));
  for (const { uid } of devices) if (byUid.has(uid)) claimed.add(byUid.get(uid)!.id);
  const sorted = [...devices].sort((a, b) => (a.uid < b.uid ? -1 : 1));
  const found = new Map<string, UnitId>();
  for (const device of sorted) {
    const universe = universeOf(document, device.gatewayIp, device.portAddress);
    if (byUid.has(device.uid) || !device.info || universe === null) continue;
    const at = (byPlace.get(`${universe}.${device.info.startAddress}`) ?? []).find((u) => {
      const fact = facts.get(u.id)!;
      return (
        !claimed.has(u.id) &&
        u.rdmUid === null &&
        (fact.footprint === device.info!.footprint || sameModel(fact.profile, device))
      );
    });
    if (!at) continue;
    claimed.add(at.id);
    found.set(device.uid, at.id);
  }
  const rows = sorted.map((device): RdmRow => {
    const sure = byUid.get(device.uid) ?? null;
    const unit = sure ?? facts.get(found.get(device.uid)!)?.unit ?? null;
    const universe = universeOf(document, device.gatewayIp, device.portAddress);
    if (!unit) {
      const suggestion =
        device.state === 'ready'
          ? (units.find((u) => {
              const fact = facts.get(u.id)!;
              return !claimed.has(u.id) && fact.place?.universe === universe && sameModel(fact.profile, device);
            }) ?? null)
          : null;
      if (suggestion) claimed.add(suggestion.id);
      return row(device, null, false, suggestion, facts, universe);
    }
    return row(device, unit, sure !== null, null, facts, universe);
  });
  const reached = new Set(rows.flatMap((r) => r.universe ?? []));
  const missing = units
    .filter((u) => !claimed.has(u.id) && (u.rdmUid !== null || reached.has(facts.get(u.id)!.place?.universe ?? -1)))
    .map((u) => row(null, u, u.rdmUid !== null, null, facts, facts.get(u.id)!.place?.universe ?? null));
  return [...rows, ...missing].sort(
    (a, b) => ORDER.indexOf(a.verdict) - ORDER.indexOf(b.verdict) || startOf(a) - startOf(b),
  );
}

/** What has to be looked at comes first. */
const ORDER: readonly RdmVerdict[] = ['differs', 'faulty', 'unknown', 'lost', 'reading', 'matches', 'missing'];
const startOf = (row: RdmRow): number =>
  row.wanted
    ? row.wanted.universe * 1000 + row.wanted.address
    : (row.universe ?? 99_999) * 1000 + (row.device?.info?.startAddress ?? 0);

/** A model name that says the same, whatever stands around it. */
function sameModel(profile: ProfileRecord | undefined, device: FoundRdm): boolean {
  const [ours, theirs] = [plain(profile?.model ?? ''), plain(device.model)];
  return ours !== '' && theirs !== '' && (ours.includes(theirs) || theirs.includes(ours));
}

type Facts = ReadonlyMap<
  UnitId,
  {
    readonly place: { readonly universe: number; readonly address: number } | null;
    readonly profile: ProfileRecord | undefined;
    readonly footprint: number;
  }
>;

function row(
  device: FoundRdm | null,
  unit: UnitRecord | null,
  sure: boolean,
  suggestion: UnitRecord | null,
  facts: Facts,
  universe: number | null,
): RdmRow {
  const fact = facts.get((unit ?? suggestion)?.id ?? ('unit:none' as UnitId));
  const info = device?.info ?? null;
  const place = fact?.place ?? null;
  const wanted = fact && place ? { ...place, footprint: fact.footprint } : null;
  const addressDiffers =
    info !== null && wanted !== null && (info.startAddress !== wanted.address || universe !== wanted.universe);
  const modeDiffers = info !== null && wanted !== null && info.footprint !== wanted.footprint;
  const verdict: RdmVerdict = !device
    ? 'missing'
    : device.state !== 'ready'
      ? device.state
      : !unit
        ? 'unknown'
        : addressDiffers || modeDiffers
          ? 'differs'
          : 'matches';
  return {
    device,
    unit,
    sure,
    suggestion,
    verdict,
    wanted,
    addressDiffers,
    modeDiffers,
    universe,
    personality: only((device?.personalities ?? []).filter((p) => p.footprint === wanted?.footprint))?.number ?? null,
    mode: only((fact?.profile?.modes ?? []).filter((m) => footprintOf(m) === info?.footprint))?.key ?? null,
  };
}

import { getRecord, type Document } from '../document/change.ts';
import type { UnitId } from '../ids.ts';
import { layoutOfUnit, patchOf } from '../patch/of-document.ts';
import { attributeInfo } from '../attributes.ts';
import { MAX_SLOTS } from '../units.ts';
import { BLUE, GREEN, OTHER, RED, WHITE } from './roles.ts';
import type { RunningTest, TestScope } from './signal.ts';

const ROLE: Readonly<Record<string, number>> = {
  ColorAdd_R: RED,
  ColorAdd_G: GREEN,
  ColorAdd_B: BLUE,
  ColorAdd_W: WHITE,
};
/** Attributes that move machines or change the unit itself: a test of many slots leaves them alone. */
const MACHINE = /^(Fog|Haze|Fan|Control|Reset|Blower|Effects|Function|LampControl|DisplayIntensity)/;

/** A slot of a scope with what is known of it. */
export interface ScopeSlot {
  readonly universe: number;
  /** 1-512. */
  readonly address: number;
  readonly unitId: UnitId | null;
  readonly attribute: string | null;
  /** Name of its channel with cell and byte: `Red cell 3`, `Pan fine`; empty where it is nobody's. */
  readonly words: string;
  /** Counted through the scope from 0; -1 where the slot belongs to no cell. */
  readonly cell: number;
  readonly role: number;
  /** True for a level of the whole unit, which has to be up for its colours to be seen. */
  readonly level: boolean;
  readonly machine: boolean;
}

/** The slots of a scope in its order. Linear in the slots. */
export function slotsOfScope(document: Document, scope: TestScope): ScopeSlot[] {
  if ('universe' in scope) return slotsOfRange(document, scope.universe, scope.from, scope.to);
  const ids = 'unitIds' in scope ? scope.unitIds : (getRecord(document, 'line', scope.lineId)?.unitIds ?? []);
  const cells = { next: 0 };
  return ids.flatMap((id) => slotsOfUnit(document, id, cells));
}

function slotsOfRange(document: Document, universe: number, from: number, to: number): ScopeSlot[] {
  const owned = new Map<number, ScopeSlot>();
  const cells = { next: 0 };
  const units = patchOf(document).units.filter((u) => u.spans.some((s) => s.universe === universe));
  units.sort((a, b) => (a.spans[0]?.from ?? 0) - (b.spans[0]?.from ?? 0));
  for (const { id } of units)
    for (const slot of slotsOfUnit(document, id, cells)) if (slot.universe === universe) owned.set(slot.address, slot);
  return Array.from(
    { length: Math.max(0, to - from + 1) },
    (_, i) => owned.get(from + i) ?? { ...NOBODYS, universe, address: from + i },
  );
}

const NOBODYS = {
  unitId: null,
  attribute: null,
  words: '',
  cell: -1,
  role: OTHER,
  level: false,
  machine: false,
} as const;

/** Slots of one unit in the order of its footprint; cells are counted on in `cells`. */
function slotsOfUnit(document: Document, id: UnitId, cells: { next: number }): ScopeSlot[] {
  const unit = getRecord(document, 'unit', id);
  const spans = patchOf(document).get(id)?.spans ?? [];
  if (!unit || spans.length === 0) return [];
  const layout = layoutOfUnit(document, unit);
  const places = spans.flatMap((s) =>
    Array.from({ length: s.to - s.from + 1 }, (_, i) => ({ universe: s.universe, address: s.from + i })),
  );
  const slots: ScopeSlot[] = places.map((place) => ({ ...NOBODYS, ...place, unitId: id }));
  const first = cells.next;
  const coloured = layout.channels.some((c) => c.channel.attribute in ROLE);
  for (const { channel, cell, offsets } of layout.channels) {
    const role = ROLE[channel.attribute] ?? OTHER;
    const words = `${channel.name}${cell > 0 ? ` cell ${cell}` : ''}`;
    offsets.forEach((offset, byte) => {
      const slot = slots[offset];
      if (!slot || slot.address > MAX_SLOTS) return;
      slots[offset] = {
        ...slot,
        attribute: channel.attribute,
        words: `${words}${byte > 0 ? ' fine' : ''}`,
        cell: role === OTHER ? -1 : first + Math.max(0, cell - 1),
        role,
        level: attributeInfo(channel.attribute)?.family === 'level' && channel.attribute.startsWith('Dimmer'),
        machine: MACHINE.test(channel.attribute),
      };
    });
  }
  cells.next = first + (coloured ? Math.max(1, layout.cells) : 0);
  return slots.filter((s) => s.address <= MAX_SLOTS);
}

/** A test made ready for a rig: where its bytes are in the frame, in the order of its scope. */
export interface PreparedTest {
  readonly test: RunningTest;
  /** Byte offset in the frame of every slot. */
  readonly offsets: Uint32Array;
  readonly roles: Uint8Array;
  readonly cells: Int32Array;
  /** 1 for levels of whole units. */
  readonly levels: Uint8Array;
  /** Places (in `offsets`) that patterns run over: all but machines. */
  readonly pattern: Uint32Array;
  readonly cellCount: number;
  readonly hasWhite: boolean;
}

/** Null where the scope has no slot in the universes of the rig. `universes` ascending, 512 bytes each in the frame. */
export function prepareTest(
  document: Document,
  universes: ArrayLike<number>,
  test: RunningTest | null,
): PreparedTest | null {
  if (!test) return null;
  const indexOf = new Map(Array.from(universes, (u, i) => [u, i]));
  const slots = slotsOfScope(document, test.scope).filter((s) => indexOf.has(s.universe));
  if (slots.length === 0) return null;
  const pattern: number[] = [];
  slots.forEach((s, i) => {
    if (!s.machine) pattern.push(i);
  });
  return {
    test,
    offsets: Uint32Array.from(slots, (s) => indexOf.get(s.universe)! * MAX_SLOTS + s.address - 1),
    roles: Uint8Array.from(slots, (s) => s.role),
    cells: Int32Array.from(slots, (s) => s.cell),
    levels: Uint8Array.from(slots, (s) => (s.level ? 1 : 0)),
    pattern: Uint32Array.from(pattern),
    cellCount: slots.reduce((most, s) => Math.max(most, s.cell + 1), 0),
    hasWhite: slots.some((s) => s.role === WHITE),
  };
}

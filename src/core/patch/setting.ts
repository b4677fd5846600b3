import type { ProfileRecord } from '../records/index.ts';
import { addressToUnitNumber, dipSwitches } from './address.ts';

/** One switch of a unit, as it stands from left to right. `role` says what it is for. */
export interface SwitchState {
  readonly number: number;
  readonly on: boolean;
  readonly role: 'address' | 'mode';
  /** What it is worth in an address; 0 for a mode switch. */
  readonly worth: number;
}

/** What a person sets on the unit itself so that it listens at an address. */
export interface Setting {
  /** The number in the unit's menu: one less on units that count from 0. */
  readonly menu: number;
  readonly switches: readonly SwitchState[];
  /** For units that are set by a unit number; null where the address is not the first of one. */
  readonly unitNumber: { readonly value: number; readonly decimal: string; readonly hex: string } | null;
  /** How this unit is set, most natural first. */
  readonly way: 'menu' | 'switches' | 'unit number';
  /** What stands in the way, in words: an address that no unit number begins at. */
  readonly problem: string | null;
}

type Settable = Pick<ProfileRecord, 'addressFromZero' | 'dipSwitches' | 'dip' | 'unitNumber'>;

/** What to set on a unit of a profile for an address (1-512). */
export function settingOf(profile: Settable | undefined, address: number): Setting {
  const fromZero = profile?.addressFromZero ?? false;
  const unit = profile?.unitNumber;
  const number = unit ? addressToUnitNumber(address, unit.circuits) : null;
  const problem =
    unit && number === null
      ? `no unit number begins at ${address}: they begin at 1, ${1 + unit.circuits}, ${1 + 2 * unit.circuits} ...`
      : null;
  return {
    menu: fromZero ? address - 1 : address,
    switches: switchesFor(profile, address),
    unitNumber:
      number === null
        ? null
        : {
            value: number,
            decimal: String(number).padStart(2, '0'),
            hex: number.toString(16).toUpperCase().padStart(2, '0'),
          },
    way: unit ? 'unit number' : profile?.dipSwitches ? 'switches' : 'menu',
    problem,
  };
}

/** The switches from left to right. Number k stands for 2^(k-1), or for 2^(9-k) where the first one is worth most. */
function switchesFor(profile: Settable | undefined, address: number): SwitchState[] {
  const bits = new Set(dipSwitches(address, profile?.addressFromZero ?? false));
  const highFirst = profile?.dip?.highFirst ?? false;
  const states: SwitchState[] = [];
  for (let number = 1; number <= 9; number++) {
    const bit = bitOfSwitch(number, highFirst);
    states.push({ number, on: bits.has(bit), role: 'address', worth: 2 ** (bit - 1) });
  }
  const mode = profile?.dip?.modeSwitch;
  if (mode) states.push({ number: mode.number, on: mode.on, role: 'mode', worth: 0 });
  return states;
}

/** Bit 1-9 (worth 2^(bit-1)) that switch `number` stands for. */
export const bitOfSwitch = (number: number, highFirst: boolean): number => (highFirst ? 10 - number : number);

/** `1 5 8`: the switches that are on; `none` where all are off. */
export const switchWords = (setting: Setting): string =>
  setting.switches
    .filter((s) => s.on)
    .map((s) => s.number)
    .join(' ') || 'none';

/** What to set, in a few words: `switches 1 5 8 on`, `unit number 10 (hex 0A)`, `address 217`. */
export function settingWords(setting: Setting): string {
  if (setting.problem) return setting.problem;
  switch (setting.way) {
    case 'switches':
      return `switches ${switchWords(setting)} on`;
    case 'unit number':
      return `unit number ${setting.unitNumber!.decimal} (hex ${setting.unitNumber!.hex})`;
    case 'menu':
      return `address ${setting.menu}`;
  }
}

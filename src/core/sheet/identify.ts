import { shorten, type Fault } from '../faults.ts';
import { readWhole } from '../numbers.ts';
import type { UnitId } from '../ids.ts';
import type { UnitRecord } from '../records/index.ts';
import { cellFault } from './write.ts';

/** Which unit a row of a file is: the one with its number, else the one with its name, else a new one. */
export class Identities {
  readonly #byNumber = new Map<number, UnitRecord[]>();
  readonly #byName = new Map<string, UnitRecord[]>();
  /** Rows by the unit they were taken for, and by the number they gave it. */
  readonly #rowOf = new Map<UnitId, number>();
  readonly #rowOfNumber = new Map<number, number>();
  /** All numbers in use, those that the file gives included: not handed out to rows without one. */
  readonly numbers: Set<number>;

  constructor(units: Iterable<UnitRecord>, given: Iterable<number>) {
    for (const unit of units) {
      note(this.#byNumber, unit.number, unit);
      note(this.#byName, unit.name.toLowerCase(), unit);
    }
    this.numbers = new Set([...this.#byNumber.keys(), ...given]);
  }

  /** Remembers which row a unit was taken from. */
  took(unit: UnitRecord, row: number): void {
    this.#rowOf.set(unit.id, row);
    if (!this.#rowOfNumber.has(unit.number)) this.#rowOfNumber.set(unit.number, row);
    this.numbers.add(unit.number);
  }

  find(row: number, numberText: string, name: string): { unit: UnitRecord | null } | { fault: Fault } {
    if (numberText !== '') return this.#byItsNumber(row, numberText);
    const found = name === '' ? [] : (this.#byName.get(name.toLowerCase()) ?? []);
    if (found.length <= 1) return this.#once(row, found[0] ?? null);
    const message = `${found.length} units of the show are called “${String(shorten(name))}”`;
    return { fault: cellFault('name', 'NAME_NOT_CLEAR', message, name, 'Give the number as well.') };
  }

  #byItsNumber(row: number, text: string): { unit: UnitRecord | null } | { fault: Fault } {
    const refuse = (code: string, message: string, remedy: string) => ({
      fault: cellFault('number', code, message, text, remedy),
    });
    const number = readWhole(text);
    if (number === null || number < 1 || number > 99_999) {
      const message = `“${String(shorten(text))}” is not a number from 1 to 99999`;
      return refuse('NUMBER_RANGE', message, 'Give a whole number from 1 to 99999.');
    }
    const earlier = this.#rowOfNumber.get(number);
    // Noted even where the row is refused for something else: mended later, it would be the same unit again.
    if (earlier === undefined) this.#rowOfNumber.set(number, row);
    else
      return refuse(
        'NUMBER_TWICE',
        `number ${number} stands in row ${earlier} already`,
        'Give each row its own number.',
      );
    const found = this.#byNumber.get(number) ?? [];
    if (found.length <= 1) return this.#once(row, found[0] ?? null);
    return refuse(
      'NUMBER_NOT_CLEAR',
      `${found.length} units of the show have number ${number}`,
      'Give them different numbers first.',
    );
  }

  #once(row: number, unit: UnitRecord | null): { unit: UnitRecord | null } | { fault: Fault } {
    const earlier = unit && this.#rowOf.get(unit.id);
    if (!unit || !earlier) return { unit };
    const remedy = `Keep one of rows ${earlier} and ${row}.`;
    return { fault: cellFault('name', 'UNIT_TWICE', `row ${earlier} is the same unit`, unit.name, remedy) };
  }
}

function note<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

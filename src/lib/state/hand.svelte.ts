import { fromHex, nearestColour, type LinearRgb } from '$core/colour/convert.ts';
import type { LitId } from '$core/ids.ts';
import { attributeInfo, COLOUR_ATTRIBUTES, splitAttributeKey, type AttributeFamily } from '$core/profile/attributes.ts';
import { homeFraction, type Programmable } from '$core/profile/layout.ts';
import { sentFraction } from '$core/profile/readout.ts';
import type { AttributeValue, UnitValues } from '$core/records/scene.ts';
import type { Channel } from '$core/records/profile.ts';
import type { LiveClient } from '../live/client.svelte.ts';
import type { Rig } from './rig.svelte.ts';
import type { Selection } from './selection.svelte.ts';

/** An attribute that at least one selected unit has. */
export interface HandAttribute {
  readonly attribute: string;
  readonly words: string;
  readonly family: AttributeFamily;
  /** Channel of the first unit that has it: its ranges are the ones offered. Null for virtual attributes. */
  readonly channel: Channel | null;
  readonly unitIds: readonly LitId[];
  readonly home: number;
}

/** What the operator changes by hand on the selection. The values live in the engine; every page sees the same. */
export class Hand {
  readonly #live: LiveClient;
  readonly #rig: Rig;
  readonly #selection: Selection;
  constructor(live: LiveClient, rig: Rig, selection: Selection) {
    this.#live = live;
    this.#rig = rig;
    this.#selection = selection;
  }

  readonly values = $derived.by((): Readonly<Record<string, UnitValues>> => this.#live.live?.hand ?? {});
  readonly unitIds = $derived(Object.keys(this.values) as LitId[]);
  readonly touchedCount = $derived(Object.values(this.values).reduce((sum, v) => sum + Object.keys(v).length, 0));

  /** Attributes of the selection, levels first. The three parts of a colour are one control and left out here. */
  readonly attributes = $derived.by((): HandAttribute[] => {
    const found = new Map<string, { item: Programmable; unitIds: LitId[] }>();
    for (const id of this.#selection.lit) {
      for (const item of this.#rig.programmable(id)) {
        if ((COLOUR_ATTRIBUTES as readonly string[]).includes(item.attribute)) continue;
        const known = found.get(item.attribute);
        if (!known) found.set(item.attribute, { item, unitIds: [id] });
        else if (known.unitIds.at(-1) !== id) known.unitIds.push(id);
      }
    }
    return [...found].map(([attribute, { item, unitIds }]) => {
      const info = attributeInfo(attribute);
      return {
        attribute,
        words: item.channel?.name ?? info?.words ?? attribute,
        family: info?.family ?? 'control',
        channel: item.channel,
        unitIds,
        home: homeFraction(item),
      };
    });
  });

  /** What is sent now for each attribute of the selection (its first unit), where it has a channel of its own. */
  sent = $state.raw<ReadonlyMap<string, number>>(new Map());

  /** Reads `sent` from the newest frame; called a few times a second while the controls are to be seen. */
  readSent(): void {
    const next = new Map<string, number>();
    for (const { attribute, unitIds } of this.attributes) {
      const unit = this.#rig.unit(unitIds[0]!);
      const fraction = unit && sentFraction(this.#live.document, unit, attribute, this.#live.frames);
      if (typeof fraction === 'number') next.set(attribute, fraction);
    }
    const same = next.size === this.sent.size && [...next].every(([key, value]) => this.sent.get(key) === value);
    if (!same) this.sent = next;
  }

  /** Selected units that take a colour: by mixing, or by the nearest slot of a wheel. */
  readonly colourUnits = $derived.by(() =>
    this.#selection.lit.filter((id) => this.#mixes(id) || this.#wheelOf(id) !== null),
  );

  #mixes(id: LitId): boolean {
    return this.#rig.programmable(id).some((p) => p.attribute === COLOUR_ATTRIBUTES[0]);
  }

  #wheelOf(id: LitId): { attribute: string; channel: Channel } | null {
    const item = this.#rig
      .programmable(id)
      .find((p) => /^Color\d+$/.test(p.attribute) && p.channel?.ranges.some((r) => r.colour));
    return item?.channel ? { attribute: item.attribute, channel: item.channel } : null;
  }

  set(unitIds: readonly LitId[], attribute: string, value: AttributeValue | null): void {
    this.#send(unitIds.map((id) => [id, this.#withCells(id, attribute, value)]));
  }

  /** A value for the whole unit takes the place of what single cells had by hand. */
  #withCells(id: LitId, attribute: string, value: AttributeValue | null): Record<string, AttributeValue | null> {
    const set: Record<string, AttributeValue | null> = { [attribute]: value };
    for (const key of Object.keys(this.values[id] ?? {}))
      if (key !== attribute && splitAttributeKey(key).attribute === attribute) set[key] = null;
    return set;
  }

  setColour(unitIds: readonly LitId[], colour: LinearRgb): void {
    this.#send(
      unitIds.flatMap((id): [LitId, Record<string, AttributeValue | null>][] => {
        if (this.#mixes(id)) {
          const parts = [colour.r, colour.g, colour.b];
          return [
            [
              id,
              Object.assign(
                {},
                ...COLOUR_ATTRIBUTES.map((attribute, i) => this.#withCells(id, attribute, parts[i]!)),
              ) as Record<string, AttributeValue | null>,
            ],
          ];
        }
        const wheel = this.#wheelOf(id);
        const slots = wheel?.channel.ranges.filter((r) => r.colour) ?? [];
        const slot =
          slots[
            nearestColour(
              colour,
              slots.map((r) => fromHex(r.colour!)),
            )
          ];
        return wheel && slot ? [[id, { [wheel.attribute]: { range: slot.name, at: 0.5 } }]] : [];
      }),
    );
  }

  #send(entries: readonly [LitId, Record<string, AttributeValue | null>][]): void {
    if (entries.length > 0) this.#live.setHand(Object.fromEntries(entries));
  }

  /** The colour by hand of the first selected unit that has one. */
  readonly colour = $derived.by((): LinearRgb | null => {
    for (const id of this.#selection.lit) {
      const [r, g, b] = COLOUR_ATTRIBUTES.map((attribute) => this.values[id]?.[attribute]);
      if (typeof r === 'number' && typeof g === 'number' && typeof b === 'number') return { r, g, b };
    }
    return null;
  });

  /** Value by hand over these units: one value, `mixed`, or null where nobody has it by hand. */
  valueOf(unitIds: readonly LitId[], attribute: string): AttributeValue | 'mixed' | null {
    let common: AttributeValue | null | undefined;
    for (const id of unitIds) {
      const value = this.values[id]?.[attribute] ?? null;
      if (common === undefined) common = value;
      else if (JSON.stringify(common) !== JSON.stringify(value)) return 'mixed';
    }
    return common ?? null;
  }

  letGo(units?: readonly LitId[]): void {
    void this.#live.command({ do: 'letGo', ...(units ? { units: [...units] } : {}) });
  }

  letGoAttribute(unitIds: readonly LitId[], attribute: string): void {
    this.set(unitIds, attribute, null);
  }

  letGoColour(unitIds: readonly LitId[]): void {
    this.#send(
      unitIds.map((id) => [
        id,
        Object.assign({}, ...COLOUR_ATTRIBUTES.map((a) => this.#withCells(id, a, null))) as Record<
          string,
          AttributeValue | null
        >,
      ]),
    );
  }
}

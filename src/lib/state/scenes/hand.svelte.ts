import { fromHex, type LinearRgb } from '$core/colour/convert.ts';
import { mixtureOf } from '$core/colour/mixture.ts';
import type { EffectId, LitId, SceneId } from '$core/ids.ts';
import { paletteKeys, plainValue } from '$core/palette/resolve.ts';
import { attributeInfo, COLOUR_ATTRIBUTES, splitAttributeKey, type AttributeFamily } from '$core/attributes.ts';
import { homeFraction, type Programmable } from '$core/profile/layout.ts';
import { readCell, sentFraction, type CellLight } from '$core/patch/readout.ts';
import type { Preset } from '$core/ready/presets.ts';
import { colourValues, readyFor, takesColour, type ReadyLook } from '$core/ready/ready.ts';
import type { PaletteRecord, SceneRecord } from '$core/records/index.ts';
import type { AttributeValue, PlainValue, UnitValues } from '$core/records/scene.ts';
import type { Channel } from '$core/records/profile.ts';
import { fanPlaces, type FanShape } from '$core/show/live/fan.ts';
import { paletteFamilyOf, storedInto, wholeOf, type StoreMode, type Values } from '$core/show/live/store.ts';
import { isPlaying, type LiveState, type Play } from '$core/show/index.ts';
import type { LiveClient } from '../../live/client.svelte.ts';
import type { Rig } from '../rig.svelte.ts';
import type { Selection } from '../selection.svelte.ts';

/** Values by hand of one unit; null lets one go. */
type HandValues = Record<string, AttributeValue | null>;

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
  /** Effects by hand. */
  readonly effects = $derived.by((): readonly Play[] => this.#live.live?.handEffects ?? []);
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

  /**
   * Reads `sent` from the newest frame, and what is made up (a level without a channel) from what is drawn; called a few
   * times a second while the controls are to be seen.
   */
  async readSent(): Promise<void> {
    if (this.#reading) return;
    this.#reading = true;
    try {
      await this.#readSent();
    } catch {
      // What cannot be told now is asked again.
    } finally {
      this.#reading = false;
    }
  }
  #reading = false;

  async #readSent(): Promise<void> {
    const next = new Map<string, number>();
    const madeUp = new Map<string, LitId>();
    for (const { attribute, channel, unitIds } of this.attributes) {
      const unit = this.#rig.unit(unitIds[0]!);
      const fraction = unit && sentFraction(this.#live.document, unit, attribute, this.#live.frames);
      if (typeof fraction === 'number') next.set(attribute, fraction);
      else if (channel === null) madeUp.set(attribute, unitIds[0]!);
    }
    if (madeUp.size > 0) {
      const units = [...new Set(madeUp.values())];
      const drawn = await this.#live.preview.ask({ what: 'values', units, nowMs: this.#live.now() });
      for (const [attribute, id] of madeUp) {
        const value = drawn[id]?.[attribute] ?? drawn[id]?.[`${attribute}#1`];
        if (typeof value === 'number') next.set(attribute, value);
      }
    }
    const same = next.size === this.sent.size && [...next].every(([key, value]) => this.sent.get(key) === value);
    if (!same) this.sent = next;
  }

  /** Selected units that take a colour: by mixing, or by the nearest slot of a wheel. */
  readonly colourUnits = $derived.by(() => this.#selection.lit.filter((id) => takesColour(this.#rig.programmable(id))));

  set(unitIds: readonly LitId[], attribute: string, value: AttributeValue | null): void {
    this.#send(unitIds.map((id) => [id, this.#withCells(id, attribute, value)]));
  }

  /** A value for the whole unit takes the place of what single cells had by hand. */
  #withCells(id: LitId, attribute: string, value: AttributeValue | null): HandValues {
    const set: HandValues = { [attribute]: value };
    for (const key of Object.keys(this.values[id] ?? {}))
      if (key !== attribute && splitAttributeKey(key).attribute === attribute) set[key] = null;
    return set;
  }

  /** Values for whole units, each in place of what single cells had; units on which nothing is set are left out. */
  #lay(entries: Iterable<readonly [LitId, UnitValues]>): void {
    this.#send(
      [...entries].flatMap(([id, values]): [LitId, HandValues][] => {
        const own = Object.entries(values).map(([key, value]) => this.#withCells(id, key, value));
        return own.length > 0 ? [[id, Object.assign({}, ...own) as HandValues]] : [];
      }),
    );
  }

  setColour(unitIds: readonly LitId[], colour: LinearRgb): void {
    this.#lay(unitIds.map((id) => [id, colourValues(this.#rig.programmable(id), colour)]));
  }

  /** Ready controls of the selection, made from the profiles. */
  readonly ready = $derived.by(() => readyFor(this.#live.document, this.#selection.lit));

  apply(look: ReadyLook): void {
    this.setAll(look.set as Readonly<Record<LitId, UnitValues>>);
  }

  /** Values for several at once. */
  setAll(values: Readonly<Record<LitId, UnitValues>>): void {
    this.#lay(Object.entries(values) as [LitId, UnitValues][]);
  }

  /** A ready-made effect on the selection. What is dark is lit; what is lit stays as bright as it is. */
  playPreset(preset: Preset, on: readonly LitId[] = this.#selection.lit): void {
    const { spec } = preset;
    const light = spec.light === null && preset.family !== 'aim' ? null : this.#anyLit(on) ? null : 1;
    void this.#live.command({ do: 'handEffect', spec: { ...spec, light }, on: [...on] });
  }

  #anyLit(on: readonly LitId[]): boolean {
    const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
    return on.some((id) => {
      const unit = this.#rig.lit(id)?.unit;
      const reader = unit && this.#rig.readers.get(unit.id);
      return reader?.cells.some((_, cell) => {
        readCell(reader, cell, this.#live.frames, light);
        return light.r + light.g + light.b > 0.02;
      });
    });
  }

  /** Values from one to the other over these units, in the order of the selection. */
  fan(unitIds: readonly LitId[], attribute: string, from: number, to: number, shape: FanShape, seed: number): void {
    const places = fanPlaces(unitIds.length, shape, seed);
    this.#send(
      unitIds.map((id, i) => {
        const fraction = from + (to - from) * places[i]!;
        return [id, this.#withCells(id, attribute, this.#ranged(id, attribute, Math.round(fraction * 1e4) / 1e4))];
      }),
    );
  }

  /** Where a channel has ranges the one by hand stays, and the fraction is a place in it. */
  #ranged(id: LitId, attribute: string, fraction: number): AttributeValue {
    const held = this.plain(id, attribute, this.values[id]?.[attribute]);
    return typeof held === 'object' && held !== null ? { range: held.range, at: fraction } : fraction;
  }

  fanColour(unitIds: readonly LitId[], from: string, to: string, shape: FanShape, seed: number): void {
    const [a, b] = [fromHex(from), fromHex(to)];
    const places = fanPlaces(unitIds.length, shape, seed);
    this.#lay(
      unitIds.map((id, i) => {
        const mix = (x: number, y: number): number => Math.round((x + (y - x) * places[i]!) * 1e4) / 1e4;
        const colour = { r: mix(a.r, b.r), g: mix(a.g, b.g), b: mix(a.b, b.b) };
        return [id, colourValues(this.#rig.programmable(id), colour)];
      }),
    );
  }

  /** What a palette says for each of the selection, as a reference to it. */
  applyPalette(palette: PaletteRecord): void {
    const refers = { palette: palette.id };
    this.#lay(
      this.#selection.lit.map((id) => [
        id,
        Object.fromEntries(paletteKeys(this.#live.document, palette, id).map((key) => [key, refers])),
      ]),
    );
  }

  /** A value with its palette put in. */
  plain(id: LitId, attribute: string, value: AttributeValue | undefined | null): PlainValue | null {
    if (value === undefined || value === null) return null;
    const lit = this.#rig.lit(id);
    if (!lit) return null;
    const channel = lit.layout.programmable.find((p) => p.attribute === attribute)?.channel ?? null;
    const asking = { id, unitId: lit.unit.id, profileId: lit.unit.profileId, channel };
    return plainValue(this.#live.document, value, asking, attribute);
  }

  /** Takes what the selection looks like at this moment, whoever sets it, into the hand. */
  async takePlaying(): Promise<void> {
    const units = [...this.#selection.lit];
    const values = await this.#live.preview.ask({ what: 'values', units, nowMs: this.#live.now() });
    this.#send(
      Object.entries(values).map(([id, own]) => {
        const items = this.#rig.programmable(id as LitId);
        return [id as LitId, wholeOf(own, (attribute) => items.find((p) => p.attribute === attribute)?.cells ?? 0)];
      }),
      false,
    );
  }

  /** What is by hand of the selection, in its order, to be laid on others. */
  clip = $state.raw<readonly UnitValues[]>([]);
  copy(): void {
    this.clip = this.#selection.lit.flatMap((id) => (this.values[id] ? [this.values[id]] : []));
  }
  /** Laid on the selection in order, again from the first where there are more; only what each can do. */
  paste(): void {
    if (this.clip.length === 0) return;
    this.#send(
      this.#selection.lit.map((id, i) => {
        const has = new Set(this.#rig.programmable(id).map((p) => p.attribute));
        const own = Object.entries(this.clip[i % this.clip.length]!);
        return [id, Object.fromEntries(own.filter(([key]) => has.has(splitAttributeKey(key).attribute)))];
      }),
    );
  }

  #send(entries: readonly [LitId, HandValues][], light = true): void {
    if (entries.length > 0) this.#live.setHand(Object.fromEntries(entries), light);
  }

  /** What was stored plays from its record from now on, and leaves the hand. */
  handOver(scene: SceneId | null, stored: LiveState['hand'], effects: { playId: string; target: EffectId }[]): void {
    void this.#live.command({ do: 'handOver', scene, hand: stored, effects });
  }

  /**
   * Stores what is by hand into a scene, which takes it over once it is kept. Where the scene does not play, `begins`
   * lets it begin; else the hand stays as it is, for the scene would bring along what else is in it. False when refused.
   */
  storeInto(scene: SceneRecord, mode: StoreMode, begins: boolean): boolean {
    const own = this.snapshot();
    const values = storedInto(scene.values as Values, own as Values, mode);
    const words = { add: 'Store into', replace: 'Replace', takeOut: 'Take out of' }[mode];
    const takesOver = mode !== 'takeOut' && begins ? scene.id : null;
    const leaves = mode === 'takeOut' || begins || isPlaying(this.#live.live!, scene.id);
    return this.#live.edit(`${words} ${scene.name}`, { put: [{ ...scene, values }], remove: [] }, (saved) => {
      if (saved && leaves) this.handOver(takesOver, own, []);
      else if (saved)
        this.#live.tell('note', `Stored into ${scene.name}, which does not play`, 'It is still by hand too.');
    });
  }

  /** What is by hand at this moment, as values that can be kept. */
  snapshot(): LiveState['hand'] {
    return structuredClone($state.snapshot(this.values)) as LiveState['hand'];
  }

  /** What was stored in a palette stays by hand, and follows the palette from now on. */
  follow(palette: PaletteRecord, stored: LiveState['hand']): void {
    const refers = { palette: palette.id };
    this.#send(
      Object.entries(stored).map(([id, own]) => [
        id as LitId,
        Object.fromEntries(
          Object.keys(own)
            .filter((key) => paletteFamilyOf(key) === palette.family)
            .map((key) => [key, refers]),
        ),
      ]),
      false,
    );
  }

  /** The colour by hand of the first selected unit that has one. */
  readonly colour = $derived.by((): LinearRgb | null => {
    for (const id of this.#selection.lit) {
      const mixture = mixtureOf(this.values[id]);
      if (mixture) return mixture;
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

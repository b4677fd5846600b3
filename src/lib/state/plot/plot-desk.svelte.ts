import type { AimId, AreaId, BackdropId, ThingId, UnitId } from '$core/ids.ts';
import { align, distribute, mirror, rotate, type Edge } from '$core/plot/arrange.ts';
import { bodyMiddle, bodyOf, type Body } from '$core/plot/body.ts';
import { makeBatch, makeLenses, type DotBatch } from '$core/plot/cell-colours.ts';
import type { Spotted } from '$core/plot/choose.ts';
import { LENGTH_UNIT, lengthNumber, lengthText, parseLength, type Lengths } from '$core/plot/lengths.ts';
import { crossesItself } from '$core/polygon.ts';
import { bounds, movedOnPaper, PAPER_AXES, tidyPlace, toPaper, type Point } from '$core/plot/paper.ts';
import { isSevere } from '$core/patch/clash.ts';
import { layoutOf } from '$core/patch/of-document.ts';
import { overlapsOf } from '$core/plot/overlap.ts';
import { PROP_FORMS } from '$core/prop/catalogue.ts';
import type { Shape } from '$core/records/shape.ts';
import { canBeProp } from '$core/prop/wiring.ts';
import { cellCount } from '$core/prop/cells.ts';
import { make, type ProfileRecord, type ThingRecord } from '$core/records/index.ts';
import { propSchema } from '$core/records/prop.ts';
import type { FixtureKind } from '$core/records/profile.ts';
import type { ThingShape } from '$core/records/thing.ts';
import type { PlotSide } from '$core/records/picture.ts';
import type { AimRecord, BackdropRecord, UnitRecord } from '$core/records/index.ts';
import type { View } from '../../components/plot/view.ts';
import type { App } from '../app.svelte.ts';
import { Kit } from '../kit/kit.svelte.ts';
import { drawnAims } from './drawn-aims.ts';
import { alongPath, drawArea, type PatternChoice, type Placing } from './plot-edits.ts';
import { plural } from '../words.ts';

export const SIDES: readonly (readonly [PlotSide, string])[] = [
  ['plan', 'Plan'],
  ['front', 'Front'],
  ['side', 'Side'],
];
/** What the plot can be looked at as: its papers, and the room in three dimensions. */
export type SightKey = PlotSide | 'room';
export const SIGHTS: readonly (readonly [SightKey, string])[] = [...SIDES, ['room', 'Room']];
/** What a press on the paper does. */
export type PlotTool = 'select' | 'lasso' | 'area' | 'outline' | 'pattern' | 'path' | 'scale' | 'place';
export type DetailsTab = 'unit' | 'prop' | 'arrange' | 'areas' | 'things' | 'aims' | 'pictures' | 'layers';
export const LABELS = ['number', 'name', 'address', 'level'] as const;
export type Label = (typeof LABELS)[number];
export const GRID_STEPS = [0, 0.05, 0.1, 0.25, 0.5, 1] as const;

interface Kept {
  /** The paper last looked at, by show. */
  readonly sides: Readonly<Record<string, PlotSide>>;
  /** Shows whose room is looked at instead of a paper. */
  readonly inRoom: readonly string[];
  readonly labels: readonly Label[];
  readonly hidden: readonly FixtureKind[];
  readonly locked: readonly FixtureKind[];
  /** The same for what stands in the room. */
  readonly hiddenThings: readonly ThingShape[];
  readonly lockedThings: readonly ThingShape[];
  readonly gridM: number;
  readonly snapUnits: boolean;
  readonly snapGuides: boolean;
  readonly rulers: boolean;
  readonly areas: boolean;
  readonly aims: boolean;
  readonly beams: boolean;
  readonly wiring: boolean;
  readonly drawing: 'auto' | 'webgl' | 'plain';
}
const KEPT = 'amber-plot';
const FRESH: Kept = {
  sides: {},
  inRoom: [],
  labels: ['number'],
  hidden: [],
  locked: [],
  hiddenThings: [],
  lockedThings: [],
  gridM: 0.1,
  snapUnits: true,
  snapGuides: true,
  rulers: true,
  areas: true,
  aims: true,
  beams: true,
  wiring: false,
  drawing: 'auto',
};

function readKept(): Kept {
  try {
    const found = JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Partial<Kept>;
    const known = Object.entries(found.sides ?? {}).filter(([, side]) => SIDES.some(([s]) => s === side));
    return { ...FRESH, ...found, sides: Object.fromEntries(known) };
  } catch {
    return FRESH;
  }
}

/** Pixels as the mode of a profile has them, in a line. */
function lineOf(profile: ProfileRecord, mode: string): Shape {
  const { cells } = layoutOf(profile, mode);
  return { shape: 'line', count: cells > 1 ? cells : 50, widthM: (profile.physical.widthMm ?? 2000) / 1000 };
}

/** Screen pixels a part of the plot must be within to catch. */
const SNAP_PX = 8;

/** What the Plot step shares between its paper, its tools and its details. */
export class PlotDesk {
  readonly #app: App;
  #kept = $state.raw<Kept>(FRESH);
  views = $state.raw<Partial<Record<PlotSide, View>>>({});
  tool = $state<PlotTool>('select');
  tab = $state<DetailsTab>('unit');
  /** The prop whose drawn grid is open instead of the paper. */
  grid = $state<UnitId | null>(null);
  area = $state<AreaId | null>(null);
  thing = $state<ThingId | null>(null);
  /** A thing while it is dragged, with what hangs on it in `trial`. */
  trialThing = $state.raw<ThingRecord | null>(null);
  aim = $state<AimId | null>(null);
  /** The fields of the chosen aim are open. */
  editingAim = $state(false);
  /** An aim while it is dragged. */
  trialAim = $state.raw<AimRecord | null>(null);
  backdrop = $state<BackdropId | null>(null);
  /** Corners given so far: of a lasso, an outline, a path, a scale. Metres on the paper. */
  corners = $state.raw<readonly Point[]>([]);
  #trial = $state.raw<ReadonlyMap<UnitId, UnitRecord>>(new Map());
  #lifted = $state.raw<ReadonlySet<UnitId>>(new Set());
  /** What was chosen to be added: empty is the first there is. */
  adding = $state<{ id: string; mode: string; madeOf: string; shape: Shape | null; count: number }>({
    id: '',
    mode: '',
    madeOf: '',
    shape: null,
    count: 1,
  });
  /** Whose light is drawn: what we send, or what another desk sends us where it does. */
  seen = $state<'sent' | 'received'>('sent');
  /** A picture while it is dragged. */
  trialBackdrop = $state.raw<BackdropRecord | null>(null);
  pattern = $state.raw<PatternChoice>({ kind: 'between', columns: 4, face: true, sweepDeg: 360, order: 'forward' });
  /** Lines that were caught while something moves. */
  caught = $state.raw<{ readonly x: number | null; readonly y: number | null }>({ x: null, y: null });

  /** Where what is added comes from. */
  readonly kit: Kit;

  constructor(app: App) {
    this.#app = app;
    this.kit = new Kit(app);
    this.#kept = readKept();
  }

  /** What is wrong with units, for the marks on the paper: clashes of addresses and the like, and what lies on what. */
  readonly faults = $derived.by((): ReadonlyMap<UnitId, { readonly severe: boolean }> => {
    const found = new Map<UnitId, { severe: boolean }>();
    for (const clash of this.#app.rig.clashes) {
      if (clash.code === 'NO_ROUTE') continue;
      const known = found.get(clash.unitId);
      found.set(clash.unitId, { severe: (known?.severe ?? false) || isSevere(clash) });
    }
    for (const id of overlapsOf(this.#app.live.document).keys()) if (!found.has(id)) found.set(id, { severe: false });
    return found;
  });
  /** What part of the paper is seen, metres; the paper says it. */
  seenNow: () => { min: Point; max: Point } | null = () => null;
  /** Points the paper is asked to show, on the plan; it takes them and forgets them. */
  wanted = $state.raw<readonly Point[] | null>(null);
  lookAt(points: readonly Point[]): void {
    this.look('plan');
    this.wanted = points;
  }
  /** Whether the details have something to say: without a selection the panels of units have not. */
  get tells(): boolean {
    return (this.tab !== 'unit' && this.tab !== 'prop') || this.#app.selection.lit.length > 0;
  }
  get set(): Kept {
    return this.#kept;
  }
  change(part: Partial<Kept>): void {
    this.#kept = { ...this.#kept, ...part };
    localStorage.setItem(KEPT, JSON.stringify(this.#kept));
  }
  /** The paper that is looked at: what was chosen here for this show, else the show's first. */
  get side(): PlotSide {
    const { show } = this.#app.rig;
    return (show && this.#kept.sides[show.id]) ?? show?.firstPaper ?? 'plan';
  }
  /** The room in three dimensions instead of a paper. */
  get inRoom(): boolean {
    const { show } = this.#app.rig;
    return show !== undefined && this.#kept.inRoom.includes(show.id);
  }
  look(sight: SightKey): void {
    const { show } = this.#app.rig;
    this.corners = [];
    if (!show) return;
    const others = this.#kept.inRoom.filter((id) => id !== show.id);
    if (sight === 'room') this.change({ inRoom: [...others, show.id] });
    else this.change({ inRoom: others, sides: { ...this.#kept.sides, [show.id]: sight } });
  }

  /** Universes of desks that are silent are ours again. */
  readonly heard = $derived.by(() =>
    this.#app.live.network.inputs.filter((i) => i.sources.length > 0).map((i) => i.universe),
  );
  /** Slots by universe as they are to be seen: what we send, or what another desk sends us where it does. */
  framesSeen(): ReadonlyMap<number, Uint8Array> {
    const { live } = this.#app;
    if (this.seen === 'sent') return live.frames;
    const frames = new Map(live.frames);
    for (const universe of this.heard) {
      const slots = live.received.get(universe);
      if (slots) frames.set(universe, slots);
    }
    return frames;
  }
  toggle<K extends 'labels' | 'hidden' | 'locked' | 'hiddenThings' | 'lockedThings'>(
    list: K,
    value: Kept[K][number],
  ): void {
    const now = this.#kept[list] as readonly unknown[];
    this.change({ [list]: now.includes(value) ? now.filter((v) => v !== value) : [...now, value] });
  }
  use(tool: PlotTool): void {
    // Areas lie on the ground: they are drawn on the plan.
    if (tool === 'area' || tool === 'outline') this.look('plan');
    this.tool = tool;
    this.corners = [];
  }

  /** Ends what is drawn corner by corner: an outline becomes an area, a path takes the selection. */
  finish(): void {
    const { tool, corners } = this;
    if (tool === 'outline' && corners.length >= 3) {
      if (crossesItself(corners))
        return this.#app.live.tell('error', 'The outline crosses itself', 'Take the last corner back and draw on.');
      drawArea(this.#app, this, corners);
    } else if (tool === 'path' && corners.length >= 2) {
      if (this.store('Arrange', alongPath(this, corners))) this.use('select');
    }
  }
  /** Takes the last corner back; without one the tool is put down. */
  stepBack(): void {
    if (this.corners.length > 0) this.corners = this.corners.slice(0, -1);
    else this.use('select');
  }

  /** Metres as a field shows them; `unitWord` stands behind. */
  shownLength(metres: number): number {
    return lengthNumber(metres, this.lengths);
  }
  get unitWord(): string {
    return LENGTH_UNIT[this.lengths];
  }
  /** Where units would go, while a pattern or a move is tried; stored when it ends. */
  get trial(): ReadonlyMap<UnitId, UnitRecord> {
    return this.#trial;
  }
  set trial(next: ReadonlyMap<UnitId, UnitRecord>) {
    this.#trial = next;
    // What stands still is drawn anew only when something is taken up or put down, not with every step of a drag.
    if (next.size !== this.#lifted.size || [...next.keys()].some((id) => !this.#lifted.has(id)))
      this.#lifted = new Set(next.keys());
  }
  /** Units that are being tried. */
  get lifted(): ReadonlySet<UnitId> {
    return this.#lifted;
  }

  get lengths(): Lengths {
    return this.#app.rig.show?.lengths ?? 'metres';
  }
  text(metres: number): string {
    return lengthText(metres, this.lengths);
  }
  parse(text: string): number | null {
    return parseLength(text, this.lengths);
  }

  #body(unit: UnitRecord): Body {
    const { rig } = this.#app;
    return bodyOf(this.side, unit, rig.profile(unit.profileId), rig.readers.get(unit.id)?.cells.length ?? 0);
  }
  kindOf(unit: UnitRecord): FixtureKind {
    return this.#app.rig.profile(unit.profileId)?.fixtureKind ?? 'other';
  }
  /** True where a unit must not be moved by a gesture. */
  isLocked(unit: UnitRecord): boolean {
    return unit.locked || this.#kept.locked.includes(this.kindOf(unit));
  }

  readonly shown = $derived.by(() => {
    const hidden = new Set(this.#kept.hidden);
    return hidden.size === 0 ? this.#app.rig.units : this.#app.rig.units.filter((u) => !hidden.has(this.kindOf(u)));
  });
  /** What a click adds while the tool is `place`; null where there is nothing to add. */
  readonly placing = $derived.by((): Placing | null => {
    const { id, mode: key, madeOf, shape, count } = this.adding;
    const form = PROP_FORMS.find((f) => f.id === id);
    const profile = form
      ? (this.kit.propProfiles.find((p) => p.id === madeOf) ?? this.kit.propProfiles[0])
      : (this.kit.get(id) ?? this.#app.rig.profiles[0]);
    const mode = profile?.modes.find((m) => m.key === key) ?? profile?.modes[0];
    if (!profile || !mode) return null;
    const prop = form
      ? propSchema.parse({ shape: shape ?? form.shape })
      : profile.flow && canBeProp(mode)
        ? propSchema.parse({ shape: shape ?? lineOf(profile, mode.key) })
        : null;
    const called = form?.name ?? profile.model;
    return {
      id: form?.id ?? profile.id,
      profile,
      mode: mode.key,
      prop,
      called,
      names: `${called.slice(0, 80)} #`,
      count,
    };
  });
  /** How wide a unit is on this paper, metres. */
  widthOf(unit: UnitRecord): number {
    const { min, max } = this.#body(unit).box;
    return max.x - min.x;
  }
  /** From where to where the middle of a unit stands in the room on this paper, across, metres. */
  get acrossRoom(): readonly [number, number] {
    const { widthM, depthM } = this.#app.rig.room;
    const half = (this.side === 'side' ? depthM : widthM) / 2;
    return [-half + 0.5, half - 0.5];
  }
  /** Between two that are placed in a row: a metre, or as wide as they are and a little. */
  get placingStepM(): number {
    const { placing } = this;
    if (!placing) return 1;
    const cells = placing.prop ? cellCount(placing.prop.shape) : layoutOf(placing.profile, placing.mode).cells;
    const like = make('unit', {
      id: 'unit:placing',
      number: 1,
      name: placing.called,
      profileId: placing.profile.id,
      mode: placing.mode,
      prop: placing.prop,
    });
    const { min, max } = bodyOf(this.side, like, placing.profile, cells).box;
    return Math.max(1, max.x - min.x + 0.1);
  }
  /** Bodies of all units that are shown, as they are stored. */
  readonly bodies = $derived.by((): Body[] => this.shown.map((unit) => this.#body(unit)));
  readonly spots = $derived.by((): Spotted[] => this.bodies.map((b) => ({ id: b.unit.id, ...bodyMiddle(b) })));
  /** The selected ones, as they would be while something is tried. */
  readonly chosen = $derived.by((): Body[] =>
    this.#app.acting.flatMap((id) => {
      const unit = this.trial.get(id) ?? this.#app.rig.unit(id);
      return unit ? [this.#body(unit)] : [];
    }),
  );
  /** Dots and lenses of all units that do not move now. */
  readonly still = $derived.by(() => this.#batches(this.bodies.filter((b) => !this.#lifted.has(b.unit.id))));
  /** Those of what is being moved. */
  readonly moving = $derived.by(() => this.#batches(this.trialBodies));
  readonly trialBodies = $derived.by((): Body[] => [...this.trial.values()].map((unit) => this.#body(unit)));

  /** A unit's body while it is being moved; undefined for what stands still. */
  trialBody(id: UnitId): Body | undefined {
    const unit = this.trial.get(id);
    return unit && this.#body(unit);
  }

  #batches(bodies: readonly Body[]): readonly [DotBatch, DotBatch] {
    const { readers } = this.#app.rig;
    const read = bodies.map((body) => ({ body, reader: readers.get(body.unit.id) }));
    return [makeBatch(this.side, read), makeLenses(this.side, read)];
  }

  readonly backdrops = $derived.by((): BackdropRecord[] =>
    this.#app.rig.backdrops
      .filter((b) => b.side === this.side)
      .map((b) => (this.trialBackdrop?.id === b.id ? this.trialBackdrop : b)),
  );
  /** What stands in the room, as it would be while something is tried. */
  readonly things = $derived.by((): ThingRecord[] => {
    const hidden = new Set(this.#kept.hiddenThings);
    return this.#app.rig.things.flatMap((thing) =>
      hidden.has(thing.shape) ? [] : [this.trialThing?.id === thing.id ? this.trialThing : thing],
    );
  });
  /** Aims that are drawn, as they would be while something is tried: those with a place. */
  readonly aims = $derived.by((): AimRecord[] =>
    this.#kept.aims || this.tab === 'aims'
      ? this.#app.rig.aims.map((aim) => (this.trialAim?.id === aim.id ? this.trialAim : aim))
      : [],
  );
  /** Aims with their handles and lines, and of the chosen one how its heads look at it. */
  readonly drawnAims = $derived.by(() =>
    drawnAims(this.#app.live.document, this.aims, this.tab === 'aims' ? this.aim : null),
  );
  /** True where a thing must not be moved by a gesture. */
  isFixed({ locked, shape }: ThingRecord): boolean {
    return locked || this.#kept.lockedThings.includes(shape);
  }
  /** Guides of this paper: across (upright lines) and up. */
  readonly guides = $derived.by(() => {
    const [across, up] = PAPER_AXES[this.side];
    const of = (axis: string): number[] =>
      (this.#app.rig.show?.guides ?? []).filter((g) => g.axis === axis).map((g) => g.at);
    return { x: of(across), y: of(up) };
  });

  /** What a moved thing catches on at a zoom, units that move left out. */
  snapTo(view: View, except: ReadonlySet<UnitId>) {
    const { gridM, snapUnits, snapGuides } = this.#kept;
    return {
      gridM,
      guidesX: snapGuides ? this.guides.x : [],
      guidesY: snapGuides ? this.guides.y : [],
      units: snapUnits ? this.bodies.flatMap((b) => (except.has(b.unit.id) ? [] : [b.at])) : [],
      reachM: SNAP_PX / view.scale,
    };
  }

  /** Puts changed units into the show as one edit; locked ones stay where they are, and the person is told. */
  store(does: string, units: readonly UnitRecord[]): boolean {
    const put = units.filter((u) => {
      const now = this.#app.rig.unit(u.id);
      return now && !this.isLocked(now) && u !== now;
    });
    const kept = units.filter((u) => this.isLocked(this.#app.rig.unit(u.id) ?? u)).length;
    if (kept > 0) this.#app.live.tell('note', `${plural(kept, 'unit')} locked`, 'Unlock under Paper to move.');
    if (put.length === 0) return false;
    const what = put.length === 1 ? put[0]!.name : plural(put.length, 'unit');
    return this.#app.live.edit(`${does} ${what}`, { put, remove: [] });
  }

  /** The selection moved along the paper. */
  moved(by: Point): UnitRecord[] {
    return this.#app.acting.flatMap((id) => {
      const unit = this.#app.rig.unit(id);
      return unit && !this.isLocked(unit)
        ? [{ ...unit, position: tidyPlace(movedOnPaper(this.side, unit.position, by)) }]
        : [];
    });
  }

  /** The selected units that are shown, as they are stored. */
  get chosenUnits(): UnitRecord[] {
    return this.#app.acting.flatMap((id) => this.#app.rig.unit(id) ?? []);
  }
  get #stored(): Body[] {
    return this.chosenUnits.map((unit) => this.#body(unit));
  }
  align(edge: Edge): void {
    this.store('Align', align(this.side, this.#stored, edge));
  }
  distribute(along: 'x' | 'y'): void {
    this.store('Distribute', distribute(this.side, this.#stored, along));
  }
  mirror(along: 'x' | 'y'): void {
    const middle = this.middle();
    if (middle) this.store('Mirror', mirror(this.side, this.#stored, along, middle[along]));
  }
  rotate(deg: number, about: Point | null = this.middle()): void {
    if (about) this.store('Turn', rotate(this.side, this.#stored, about, deg));
  }
  rotated(deg: number, about: Point): UnitRecord[] {
    return rotate(this.side, this.#stored, about, deg).filter((u) => !this.isLocked(u));
  }
  /** The middle of what the selection covers; null of nothing. */
  middle(): Point | null {
    const box = bounds(this.#stored.flatMap((b) => [b.box.min, b.box.max]));
    return box && { x: (box.min.x + box.max.x) / 2, y: (box.min.y + box.max.y) / 2 };
  }

  /** What has to be in sight to see all: the room and every unit. */
  readonly extent = $derived.by((): Point[] => {
    const { widthM, depthM, heightM } = this.#app.rig.room;
    const corners = [
      { x: -widthM / 2, y: -depthM / 2, z: 0 },
      { x: widthM / 2, y: depthM / 2, z: heightM },
    ].map((p) => toPaper(this.side, p));
    return [...corners, ...this.bodies.flatMap((b) => [b.box.min, b.box.max])];
  });
}

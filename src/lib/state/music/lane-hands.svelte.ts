import type { LaneId } from '$core/ids.ts';
import type { Block, LaneRecord } from '$core/records/lane.ts';
import { kept } from '$core/song/grid.ts';
import { withFields } from '$core/timeline/blocks.ts';
import { clamp } from '$core/units.ts';
import type { LightDesk } from './light-desk.svelte.ts';

/** What goes on between press and let go, with moments in seconds of the song. */
type Gesture =
  | { readonly kind: 'paint'; readonly lane: LaneRecord; readonly from: number; readonly to: number }
  | { readonly kind: 'move' | 'slip'; readonly at: number; readonly anchor: number; readonly moved: boolean }
  | { readonly kind: 'edge'; readonly lane: LaneRecord; readonly key: string; readonly edge: 'from' | 'to' }
  | { readonly kind: 'fade'; readonly lane: LaneRecord; readonly block: Block; readonly end: 'in' | 'out' }
  | { readonly kind: 'box'; readonly lane: LaneId; readonly to: LaneId; readonly from: number; readonly now: number }
  | { readonly kind: 'pan'; readonly x: number; readonly from: number };

/** So near (pixels) a moment is drawn to something. */
const REACH_PX = 14;
const LABELS = { move: 'Move blocks', slip: 'Slip blocks', edge: 'Stretch a block', fade: 'Fade a block' } as const;

/** Mouse, pen and fingers on lanes: painting, choosing, moving, slipping, stretching, fading; two fingers see closer. */
export class LaneHands {
  readonly #light: LightDesk;
  gesture = $state.raw<Gesture | null>(null);
  /** Blocks of lanes while they are dragged, before that is one edit. */
  trial = $state.raw<ReadonlyMap<LaneId, Block[]> | null>(null);
  readonly #fingers = new Map<number, number>();
  #pinch: { readonly apart: number; readonly span: number; readonly at: number } | null = null;

  constructor(light: LightDesk) {
    this.#light = light;
  }
  get #song() {
    return this.#light.song;
  }

  blocksOf = (lane: LaneRecord): Block[] => this.trial?.get(lane.id) ?? lane.blocks;

  #box = (event: PointerEvent): DOMRect => (event.currentTarget as HTMLElement).getBoundingClientRect();
  #timeAt(event: PointerEvent): number {
    const box = this.#box(event);
    return this.#song.from + ((event.clientX - box.left) / box.width) * this.#song.span;
  }
  #reach = (event: PointerEvent): number => (REACH_PX / this.#box(event).width) * this.#song.span;
  /** A moment that is painted to: the nearest of what blocks are drawn to, however far. */
  #painted(event: PointerEvent): number {
    const at = this.#timeAt(event);
    return this.#light.snap(at, Math.max(this.#reach(event), this.#light.beatS(at) * 4), event.altKey);
  }

  down(event: PointerEvent, lane: LaneRecord): void {
    if (event.button !== 0) return;
    const light = this.#light;
    const body = event.currentTarget as HTMLElement;
    body.setPointerCapture(event.pointerId);
    light.laneId = lane.id;
    if (event.pointerType === 'touch') {
      this.#fingers.set(event.pointerId, event.clientX);
      if (this.#fingers.size === 2) return this.#beginPinch(event);
    }
    const target = event.target as HTMLElement;
    const at = this.#timeAt(event);
    const key = target.closest<HTMLElement>('[data-key]')?.dataset['key'];
    const block = key === undefined ? undefined : lane.blocks.find((b) => b.key === key);
    // With something in the hand it is painted, over what is there too.
    if (light.hand && !lane.locked) {
      const from = this.#painted(event);
      this.gesture = { kind: 'paint', lane, from, to: from };
      return;
    }
    if (!block) {
      this.gesture =
        event.pointerType === 'touch'
          ? { kind: 'pan', x: event.clientX, from: this.#song.from }
          : { kind: 'box', lane: lane.id, to: lane.id, from: at, now: at };
      return;
    }
    const already = light.isChosen(lane.id, block.key);
    if (event.shiftKey)
      light.chosen = already
        ? light.chosen.filter((c) => c.lane !== lane.id || c.key !== block.key)
        : [...light.chosen, { lane: lane.id, key: block.key }];
    else if (!already) light.chosen = [{ lane: lane.id, key: block.key }];
    if (lane.locked) return;
    const { edge, fade } = target.dataset as { edge?: 'from' | 'to'; fade?: 'in' | 'out' };
    if (edge) this.gesture = { kind: 'edge', lane, key: block.key, edge };
    else if (fade) this.gesture = { kind: 'fade', lane, block, end: fade };
    else this.gesture = { kind: event.ctrlKey || event.metaKey ? 'slip' : 'move', at, anchor: block.at, moved: false };
  }

  move(event: PointerEvent): void {
    if (this.#fingers.has(event.pointerId)) this.#fingers.set(event.pointerId, event.clientX);
    if (this.#pinch) return this.#pinched(event);
    const { gesture } = this;
    if (!gesture) return;
    const light = this.#light;
    const at = this.#timeAt(event);
    switch (gesture.kind) {
      case 'paint':
        this.gesture = { ...gesture, to: this.#painted(event) };
        return;
      case 'pan':
        this.#song.follows = false;
        this.#song.see(
          gesture.from - ((event.clientX - gesture.x) / this.#box(event).width) * this.#song.span,
          this.#song.span,
        );
        return;
      case 'box': {
        const under = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-lane]');
        const to = (under?.dataset['lane'] as LaneId | undefined) ?? gesture.to;
        this.gesture = { ...gesture, now: at, to };
        return;
      }
      case 'edge': {
        const { lane, key, edge } = gesture;
        const to = light.snap(at, this.#reach(event), event.altKey, true);
        this.trial = new Map([[lane.id, light.stretchedIn(lane, key, edge, to)]]);
        return;
      }
      case 'fade': {
        const { lane, block, end } = gesture;
        const to = clamp(light.snap(at, this.#reach(event), event.altKey), block.at, block.at + block.length);
        const fields = end === 'in' ? { fadeIn: kept(to - block.at) } : { fadeOut: kept(block.at + block.length - to) };
        this.trial = new Map([[lane.id, withFields(lane.blocks, new Set([block.key]), fields)]]);
        return;
      }
    }
    if (!gesture.moved && Math.abs(at - gesture.at) < this.#reach(event) / 4) return;
    this.gesture = { ...gesture, moved: true };
    this.trial = gesture.kind === 'slip' ? this.#slipped(gesture.at - at) : this.#moved(gesture, at, event);
  }

  #moved({ anchor, at: from }: { anchor: number; at: number }, at: number, event: PointerEvent): Map<LaneId, Block[]> {
    const light = this.#light;
    const by = light.snap(anchor + at - from, this.#reach(event), event.altKey, true) - anchor;
    return new Map(this.#touched().map((lane) => [lane.id, light.movedIn(lane, by)]));
  }
  /** What blocks play is moved within them: so much later in its own course. */
  #slipped(by: number): Map<LaneId, Block[]> {
    return new Map(
      this.#touched().map((lane) => {
        const keys = this.#light.keysIn(lane.id);
        const slip = (block: Block): Block => ({ ...block, slip: clamp(kept(block.slip + by), -3600, 3600) });
        return [lane.id, lane.blocks.map((block) => (keys.has(block.key) ? slip(block) : block))];
      }),
    );
  }
  #touched = (): LaneRecord[] =>
    this.#light.lanes.filter((lane) => !lane.locked && this.#light.keysIn(lane.id).size > 0);

  up(event: PointerEvent): void {
    this.#fingers.delete(event.pointerId);
    if (this.#pinch) {
      if (this.#fingers.size < 2) this.#pinch = null;
      return;
    }
    const [now, tried] = [this.gesture, this.trial];
    this.cancel();
    if (!now) return;
    const light = this.#light;
    if (now.kind === 'paint') {
      const [from, to] = [Math.min(now.from, now.to), Math.max(now.from, now.to)];
      // A press alone puts one beat of it.
      light.put(now.lane, from, to - from < 0.001 ? from + light.beatS(from) : to);
    } else if (now.kind === 'box') this.#endBox(now, this.#reach(event));
    else if (now.kind === 'pan') {
      if (Math.abs(event.clientX - now.x) > 6) return;
      light.chosen = [];
      this.#song.go(this.#timeAt(event));
    } else if (tried) {
      const put = light.lanes.flatMap((lane) => {
        const blocks = tried.get(lane.id);
        return blocks && blocks !== lane.blocks ? [{ ...lane, blocks }] : [];
      });
      if (put.length > 0) light.app.live.edit(LABELS[now.kind], { put, remove: [] });
    }
  }

  #endBox({ lane, to, from, now }: Extract<Gesture, { kind: 'box' }>, reach: number): void {
    const light = this.#light;
    if (Math.abs(now - from) < reach / 3 && lane === to) {
      light.chosen = [];
      this.#song.go(now);
      return;
    }
    light.chooseIn({ from: Math.min(from, now), to: Math.max(from, now) }, this.boxed(lane, to));
  }
  /** Lanes from one to another, as they stand. */
  boxed(a: LaneId, b: LaneId): LaneRecord[] {
    const ids = this.#light.branches.map(({ lane }) => lane.id);
    const [first, last] = [ids.indexOf(a), ids.indexOf(b)].sort((x, y) => x - y) as [number, number];
    return this.#light.branches.slice(first, last + 1).map(({ lane }) => lane);
  }

  cancel(): void {
    [this.gesture, this.trial] = [null, null];
  }
  /** The browser took the fingers for something else. */
  lost(event: PointerEvent): void {
    this.#fingers.delete(event.pointerId);
    this.#pinch = null;
    this.cancel();
  }

  #beginPinch(event: PointerEvent): void {
    this.cancel();
    const [a, b] = [...this.#fingers.values()] as [number, number];
    const box = this.#box(event);
    const at = this.#song.from + (((a + b) / 2 - box.left) / box.width) * this.#song.span;
    this.#pinch = { apart: Math.max(20, Math.abs(a - b)), span: this.#song.span, at };
  }
  #pinched(event: PointerEvent): void {
    const [a, b] = [...this.#fingers.values()];
    if (!this.#pinch || a === undefined || b === undefined) return;
    const { apart, span, at } = this.#pinch;
    const box = this.#box(event);
    const wide = (span * apart) / Math.max(20, Math.abs(a - b));
    this.#song.follows = false;
    this.#song.see(at - (((a + b) / 2 - box.left) / box.width) * wide, wide);
  }

  /** What wheels asked for since the last frame of the page. */
  #wheeled: { by: number; along: number; share: number } | null = null;
  /** Wheels: with Ctrl (or two fingers on a pad) closer and farther, sideways along the song; else the page scrolls. */
  wheel = (event: WheelEvent): void => {
    const closer = event.ctrlKey || event.metaKey || event.altKey;
    if (!closer && !event.shiftKey && Math.abs(event.deltaX) <= Math.abs(event.deltaY)) return;
    event.preventDefault();
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    if (!this.#wheeled) requestAnimationFrame(() => this.#turn());
    const now = this.#wheeled ?? { by: 1, along: 0, share: 0 };
    if (closer) now.by *= Math.exp(event.deltaY / 300);
    else now.along += (event.deltaX || event.deltaY) / 600;
    this.#wheeled = { ...now, share: (event.clientX - box.left) / box.width };
  };
  #turn(): void {
    const [song, wheeled] = [this.#song, this.#wheeled];
    this.#wheeled = null;
    if (!wheeled) return;
    if (wheeled.by !== 1) song.zoom(wheeled.by, song.from + wheeled.share * song.span);
    if (wheeled.along === 0) return;
    song.follows = false;
    song.see(song.from + wheeled.along * song.span, song.span);
  }
}

import type { Document } from '../../document/change.ts';
import { isAlike } from '../../document/touch.ts';
import type { AnyRecord } from '../../records/index.ts';
import { compilePlay, partsOf, type Program } from './program.ts';
import type { CompiledRig } from '../rig/rig.ts';
import type { Play } from '../live/state.ts';

interface Kept {
  readonly rig: CompiledRig;
  readonly play: Pick<Play, 'target' | 'spec' | 'on' | 'areaId'>;
  parts: readonly (AnyRecord | undefined)[];
  readonly program: Program | null;
}

/** A new name makes no new program. */
const isMadeAlike = (one: AnyRecord | undefined, other: AnyRecord | undefined): boolean =>
  one === other || (one !== undefined && other !== undefined && isAlike(one, other));

/** Compiled programs of what plays: one is compiled again only when the rig or a record it is made of changed. */
export class Programs {
  readonly #kept = new Map<Play['id'], Kept>();

  of(rig: CompiledRig, document: Document, play: Play): Program | null {
    const parts = partsOf(document, play.target, play.spec);
    const kept = this.#kept.get(play.id);
    if (
      kept &&
      kept.rig === rig &&
      kept.play.target === play.target &&
      kept.play.spec === play.spec &&
      kept.play.on === play.on &&
      kept.play.areaId === play.areaId &&
      kept.parts.length === parts.length &&
      kept.parts.every((part, i) => isMadeAlike(part, parts[i]))
    ) {
      kept.parts = parts;
      return kept.program;
    }
    const program = compilePlay(rig, document, play);
    this.#kept.set(play.id, { rig, play, parts, program });
    return program;
  }

  /** Forgets the programs of all other plays. */
  keepOnly(playing: readonly Play[]): void {
    const ids = new Set(playing.map((play) => play.id));
    for (const id of this.#kept.keys()) if (!ids.has(id)) this.#kept.delete(id);
  }

  clear(): void {
    this.#kept.clear();
  }
}

import { BufferAttribute, BufferGeometry } from 'three';
import { readMesh } from '$core/format/mesh.ts';
import type { BlobHash } from '$core/records/blob.ts';
import { blobAddress } from '$lib/state/pictures/blobs.ts';

/** Models as they were brought in, loaded once each. What is lost or unsound is a box. */
export class Models {
  readonly #ready = new Map<BlobHash, BufferGeometry | null>();
  readonly #came: () => void;

  /** `came`: one more can be drawn. */
  constructor(came: () => void) {
    this.#came = came;
  }

  /** Its triangles, or null while they are not here. */
  of(hash: BlobHash): BufferGeometry | null {
    const known = this.#ready.get(hash);
    if (known !== undefined) return known;
    this.#ready.set(hash, null);
    void fetch(blobAddress(hash))
      .then(async (answer) => {
        if (!answer.ok) return;
        const { places, colours, index } = readMesh(new Uint8Array(await answer.arrayBuffer()));
        const geometry = new BufferGeometry()
          .setAttribute('position', new BufferAttribute(places, 3))
          .setAttribute('shade', new BufferAttribute(colours, 4, true))
          .setIndex(new BufferAttribute(index, 1));
        geometry.computeVertexNormals();
        this.#ready.set(hash, geometry);
        this.#came();
      })
      .catch(() => undefined);
    return null;
  }

  has(geometry: BufferGeometry): boolean {
    return [...this.#ready.values()].includes(geometry);
  }

  dispose(): void {
    for (const geometry of this.#ready.values()) geometry?.dispose();
    this.#ready.clear();
  }
}

import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { FaultError } from '../faults.ts';
import { MODEL_TRIANGLES } from '../records/thing.ts';
import { blobTypeOf } from './blob-type.ts';
import { readGlb, writeGlb } from './glb.ts';
import { boxed, readMesh, simplified, writeMesh, type Mesh } from './mesh.ts';
import { FILE_TRIANGLES, openModel } from './model-file.ts';

const codes = (run: () => unknown): string => {
  try {
    run();
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    for (const fault of error.faults) assert.ok(fault.message && fault.remedy && fault.path, 'a place and a remedy');
    return error.faults[0]!.code;
  }
  return 'none';
};
/** A sheet of so many squares a side, waved. */
function sheet(side: number): Mesh {
  const places: number[] = [];
  const index: number[] = [];
  for (let y = 0; y <= side; y++)
    for (let x = 0; x <= side; x++) places.push(x / side - 0.5, y / side - 0.5, 0.5 + 0.5 * Math.sin(x * 0.3));
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const a = y * (side + 1) + x;
      index.push(a, a + 1, a + side + 1, a + 1, a + side + 2, a + side + 1);
    }
  return {
    places: Float32Array.from(places),
    colours: new Uint8Array((places.length / 3) * 4).fill(255),
    index: Uint32Array.from(index),
  };
}

describe('a model as it is kept', () => {
  test('is read as it was written', () => {
    const mesh = sheet(12);
    const bytes = writeMesh(mesh);
    assert.equal(blobTypeOf(bytes), 'model/gltf-binary');
    assert.deepEqual(readMesh(bytes), mesh);
  });
  test('anything else is refused with words, whatever bytes are changed', () => {
    const bytes = writeMesh(sheet(3));
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), fc.nat(bytes.length), (at, value, length) => {
        const spoiled = bytes.slice();
        spoiled[at] = value;
        for (const given of [spoiled, spoiled.slice(0, length)]) {
          const code = codes(() => {
            const { places, index } = readMesh(given);
            assert.ok(places.every((v) => Math.abs(v) <= 1.001) && index.every((i) => i < places.length / 3));
          });
          assert.ok(typeof code === 'string');
        }
      }),
      { numRuns: 500 },
    );
  });
  test('too many triangles, stray corners and other glTF are named', () => {
    const over = { ...sheet(1), index: new Uint32Array((MODEL_TRIANGLES + 1) * 3) };
    assert.equal(
      codes(() => readMesh(writeMesh(over))),
      'MODEL_TRIANGLES',
    );
    assert.equal(
      codes(() => readMesh(writeMesh({ ...sheet(1), index: Uint32Array.of(0, 1, 99) }))),
      'MODEL_BROKEN',
    );
    const wide = sheet(1);
    wide.places[0] = NaN;
    assert.equal(
      codes(() => readMesh(writeMesh(wide))),
      'MODEL_BROKEN',
    );
    const { json, bin } = readGlb(writeMesh(sheet(1)));
    const outside = { ...(json as object), images: [{ uri: 'elsewhere.png' }] };
    assert.notEqual(
      codes(() => readMesh(writeGlb({ json: outside, bin }))),
      'none',
    );
  });
  test('its places fill a box of one', () => {
    const { places, size } = boxed(Float32Array.of(1, 2, 3, 5, 4, 3.5, 1, 2, 3));
    assert.deepEqual([...size], [4, 2, 0.5]);
    assert.deepEqual([...places.subarray(0, 6)], [-0.5, -0.5, 0, 0.5, 0.5, 1]);
    // What is flat lies in the middle, on its foot.
    assert.deepEqual([...boxed(Float32Array.of(0, 0, 7, 1, 0, 7)).places], [-0.5, 0, 0, 0.5, 0, 0]);
  });
  test('made simpler it stays within its box, and has no more triangles than are wanted', () => {
    const mesh = sheet(120);
    assert.equal(simplified(mesh, mesh.index.length / 3), mesh);
    for (const most of [10_000, 3000, 200]) {
      const less = simplified(mesh, most);
      const count = less.index.length / 3;
      assert.ok(count <= most && count > most / 12, `${count} of ${most}`);
      assert.deepEqual(readMesh(writeMesh(less)).index.length, less.index.length);
    }
  });
});

/** A triangle as people's programs write it, with what a test wants to be otherwise. */
function triangle(change: (json: Record<string, unknown>) => void = () => undefined): Record<string, unknown> {
  const bin = Buffer.from(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer).toString('base64');
  const json: Record<string, unknown> = {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0 }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
    buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${bin}` }],
    bufferViews: [{ buffer: 0, byteLength: 36 }],
    accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' }],
  };
  change(json);
  return json;
}
const asGltf = (json: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(json));
const open = (json: unknown) => openModel(asGltf(json), 'a.gltf');
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
/** The head of a PNG picture of any size. */
function pngOf(side: number): string {
  const bytes = Buffer.from(PIXEL, 'base64');
  bytes.writeUInt32BE(side, 16);
  bytes.writeUInt32BE(side, 20);
  return `data:image/png;base64,${bytes.toString('base64')}`;
}

describe('files of models', () => {
  test('glTF with everything in it is opened; its pictures stand apart and are asked for by nobody', () => {
    const found = open(
      triangle((json) => {
        json['images'] = [{ uri: pngOf(4) }];
        json['textures'] = [{ source: 0 }];
        json['materials'] = [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }, {}];
      }),
    );
    assert.ok(found.kind === 'gltf');
    assert.deepEqual([found.triangles, found.images.length, found.imageOf], [1, 1, [0, -1]]);
    const json = JSON.stringify(found.glb.json);
    assert.ok(!json.includes('uri') && !json.includes('Texture') && !json.includes('images'), json);
    const binary = writeGlb(found.glb);
    assert.equal(openModel(binary, 'whatever.bin').triangles, 1, 'known by its bytes, not by its name');
  });
  test('what lies outside, bombs, loops, packed and broken files are named', () => {
    const cases: [string, (json: Record<string, unknown>) => void][] = [
      ['MODEL_EXTERNAL', (j) => (j['buffers'] = [{ byteLength: 36, uri: 'model.bin' }])],
      ['MODEL_EXTERNAL', (j) => (j['buffers'] = [{ byteLength: 36, uri: 'http://somewhere/model.bin' }])],
      ['MODEL_EXTERNAL', (j) => (j['images'] = [{ uri: '../../secret.png' }])],
      ['MODEL_BROKEN', (j) => (j['buffers'] = [{ byteLength: 360, uri: 'data:x;base64,AAAA' }])],
      ['MODEL_BROKEN', (j) => (j['bufferViews'] = [{ buffer: 0, byteOffset: 30, byteLength: 36 }])],
      ['MODEL_BROKEN', (j) => (j['nodes'] = [{ mesh: 0, children: [0] }])],
      [
        // Each of fifteen parts holds the next one twice: 2^15 triangles stand there, and a million if there were twenty.
        'MODEL_BROKEN',
        (j) =>
          (j['nodes'] = Array.from({ length: 16 }, (_, i) => ({ mesh: 0, children: i < 15 ? [i + 1, i + 1] : [] }))),
      ],
      [
        'MODEL_TRIANGLES',
        (j) => {
          j['accessors'] = [{ bufferView: 0, componentType: 5126, count: FILE_TRIANGLES * 3, type: 'VEC3' }];
          j['nodes'] = [{ mesh: 0, children: [1] }, { mesh: 0 }];
        },
      ],
      ['MODEL_TEXTURE', (j) => (j['images'] = [{ uri: pngOf(16_384) }])],
      ['MODEL_TEXTURE', (j) => (j['images'] = [{ uri: 'data:image/png;base64,AAAA' }])],
      ['MODEL_TEXTURE', (j) => (j['images'] = Array.from({ length: 65 }, () => ({ uri: pngOf(1) })))],
      ['MODEL_PACKED', (j) => (j['extensionsRequired'] = ['KHR_draco_mesh_compression'])],
      ['MODEL_EMPTY', (j) => (j['meshes'] = [])],
    ];
    for (const [code, change] of cases)
      assert.equal(
        codes(() => open(triangle(change))),
        code,
        String(change),
      );
    assert.equal(
      codes(() => openModel(new TextEncoder().encode('{"asset": '), 'a.gltf')),
      'MODEL_BROKEN',
    );
    assert.equal(
      codes(() => openModel(new TextEncoder().encode('hello'), 'a.fbx')),
      'MODEL_KIND',
    );
    assert.notEqual(
      codes(() => open(triangle((j) => (j['accessors'] = [{ count: 1e9 }])))),
      'none',
    );
  });
  test('OBJ: faces of any number of corners; a corner that is not there is named with its line', () => {
    const text = (rows: string[]): Uint8Array => new TextEncoder().encode(rows.join('\r\n'));
    const cube = ['mtllib outside.mtl', 'v 0 0 0', 'v 1 0 0', 'v 1 1 0', 'v 0 1 0', 'usemtl x', 'f 1/1/1 2 3//4 -1'];
    assert.equal(openModel(text(cube), 'A.OBJ').triangles, 2);
    const faults = (rows: string[]): string => {
      try {
        openModel(text(rows), 'a.obj');
      } catch (error) {
        return (error as FaultError).faults.map((f) => `${f.code} ${f.path}`).join();
      }
      return 'none';
    };
    assert.equal(faults(['v 0 0 0', 'f 1 2 3']), 'MODEL_BROKEN a.obj line 2');
    assert.equal(faults(['v 0 zero 0', 'f 1 1 1']), 'MODEL_BROKEN a.obj line 1');
    assert.equal(faults(['v 0 0 0']), 'MODEL_EMPTY a.obj');
    const bomb = ['v 0 0 0', ...Array.from({ length: 30 }, () => `f${' 1'.repeat(80_000)}`)];
    assert.equal(faults(bomb), 'MODEL_TRIANGLES a.obj');
  });
  test('any bytes end in words', () => {
    const good = writeGlb({ json: triangle(), bin: new Uint8Array(0) });
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), fc.nat(good.length - 1), fc.nat(255), (bytes, at, value) => {
        const spoiled = good.slice();
        spoiled[at] = value;
        for (const name of ['a.glb', 'a.gltf', 'a.obj']) codes(() => openModel(bytes, name));
        codes(() => openModel(spoiled, 'a.glb'));
      }),
      { numRuns: 400 },
    );
  });
});

import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { AnyRecord, RecordOf } from '../../src/core/records/index.ts';
import { App, until } from '../support/app.ts';
import { WEDGE, wedgeThing } from '../support/sample-records.ts';

/** What cannot be in a room, sent by somebody who does not go by our pages. */
describe('rooms that cannot be', () => {
  let app: App;
  let showId: string;
  let records: AnyRecord[];
  before(async () => {
    app = await App.start();
    const open = await app.openShow();
    showId = open.id;
    records = open.records;
  });
  after(() => app?.end());
  const show = () => records.find((r) => r.kind === 'show') as RecordOf['show'];
  const unit = () => records.find((r) => r.id === 'unit:wash1') as RecordOf['unit'];
  const thing = () => records.find((r) => r.kind === 'thing') as RecordOf['thing'];

  test('are refused with the place, the value and a remedy; nothing is lost and the light goes on', async () => {
    const { room } = show();
    const cases: [string, unknown][] = [
      ['room.widthM', { ...show(), room: { ...room, widthM: 0 } }],
      ['room.depthM', { ...show(), room: { ...room, depthM: 10_000 } }],
      ['room.heightM', { ...show(), room: { ...room, heightM: null } }],
      ['position.x', { ...unit(), position: { x: NaN, y: 0, z: 0 } }],
      ['position.z', { ...unit(), position: { x: 0, y: 0, z: 1e6 } }],
      ['rotation.y', { ...unit(), rotation: { x: 0, y: 1e9, z: 0 } }],
      ['hungOn', { ...unit(), hungOn: unit().id }],
      ['hungOn', { ...unit(), hungOn: 'thing:nowhere' }],
      ['put.0', { ...thing(), hungOn: thing().id }],
      ['size.widthM', { ...thing(), size: { ...thing().size, widthM: 0 } }],
      ['shape', { ...thing(), shape: 'dragon' }],
      ['model.triangles', { ...wedgeThing(), model: { ...wedgeThing().model!, triangles: 10_000_000 } }],
      ['model.blob', { ...wedgeThing(), model: { ...wedgeThing().model!, blob: '../../etc/passwd' } }],
      ['focus.beamDeg', { ...unit(), focus: { beamDeg: 400, edge: null, shutters: null, gelName: '' } }],
      ['focus.shutters', { ...unit(), focus: { beamDeg: 4, edge: null, shutters: [], gelName: '' } }],
      [
        'viewpoints.0.eye.x',
        { ...show(), viewpoints: [{ key: 'a', name: 'a', eye: { x: 1e9, y: 0, z: 0 }, target: { x: 0, y: 0, z: 0 } }] },
      ],
    ];
    for (const [path, record] of cases) {
      const answer = await app.edit(showId, { put: [record as AnyRecord] });
      const fault = answer.body as { path?: string; message?: string; remedy?: string; faults?: { path: string }[] };
      assert.equal(answer.status, 400, path);
      const places = [fault.path, ...(fault.faults ?? []).map((f) => f.path)].join(' ');
      assert.ok(places.includes(path), `${path} is not in ${places}: ${fault.message}`);
      assert.ok(fault.remedy, path);
    }
    assert.deepEqual((await app.openShow()).records, records);
    assert.equal((await app.command({ do: 'grand', level: 1 })).status, 200);
  });

  test('a model is named only when its file is here, and goes with the archive', async () => {
    const record = wedgeThing();
    const early = await app.edit(showId, { put: [record] });
    assert.deepEqual([early.status, early.body['code']], [400, 'NO_SUCH_BLOB']);
    const sent = await app.call('PUT', `/api/blobs/${WEDGE.hash}`, WEDGE.bytes, {
      'content-range': `bytes 0-${WEDGE.bytes.length - 1}/${WEDGE.bytes.length}`,
    });
    assert.equal(sent.status, 200);
    assert.equal((await app.edit(showId, { put: [record] })).status, 200);
    const back = await fetch(`${app.url}/api/blobs/${WEDGE.hash}`);
    assert.equal(back.headers.get('content-type'), 'model/gltf-binary');
    assert.deepEqual(new Uint8Array(await back.arrayBuffer()), WEDGE.bytes);
    await until('it stands there', async () => (await app.openShow()).records.some((r) => r.id === record.id));
  });
});

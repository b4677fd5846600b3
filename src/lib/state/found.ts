import type { OutputId } from '$core/ids.ts';
import type { FoundDevice, FoundPort } from '$core/protocol/network.ts';
import { stringRecords } from '$core/lines/devices/mapped-string.ts';
import { make, type AnyRecord } from '$core/records/index.ts';
import { nextNumber } from '$core/naming.ts';
import type { App } from './app.svelte.ts';

/** Found things that become part of the show with one click, each one edit and one undo. */

/** Universes of the rig that go nowhere yet, in order; those of the rig where all go somewhere. */
const waiting = (app: App): readonly number[] => (app.rig.unrouted.length > 0 ? app.rig.unrouted : app.rig.universes);

function put(app: App, label: string, output: AnyRecord, routes: readonly AnyRecord[] = []): OutputId | null {
  return app.live.edit(label, { put: [output, ...routes], remove: [] }) ? (output.id as OutputId) : null;
}

/** An sACN output that sends at once: the universes that go nowhere yet, else all of the rig. */
export function addOutput(app: App): OutputId | null {
  const output = make('output', { id: app.newId('output'), name: 'New output', protocol: 'sacn', multicast: true });
  const routes = waiting(app).map((universe) =>
    make('route', { id: app.newId('route'), universe, outputId: output.id, wireUniverse: universe }),
  );
  return put(app, 'Add an output', output, routes);
}

/** An Art-Net output to a device; universes that go nowhere are laid on its ports in order. */
export function addNode(app: App, name: string, ip: string, portAddresses: readonly number[]): OutputId | null {
  const output = make('output', {
    id: app.newId('output'),
    name: name.slice(0, 100),
    protocol: 'artnet',
    destinations: [ip],
  });
  const routes = app.rig.unrouted
    .slice(0, portAddresses.length)
    .map((universe, i) =>
      make('route', { id: app.newId('route'), universe, outputId: output.id, wireUniverse: portAddresses[i]! }),
    );
  return put(app, `Add ${output.name}`, output, routes);
}

export function addPort(app: App, port: FoundPort): OutputId | null {
  const output = make('output', {
    id: app.newId('output'),
    name: 'USB interface',
    protocol: 'serial',
    serialPath: port.path,
  });
  const universe = waiting(app)[0];
  const routes =
    universe === undefined
      ? []
      : [make('route', { id: app.newId('route'), universe, outputId: output.id, wireUniverse: 1 })];
  return put(app, 'Add a USB interface', output, routes);
}

export function addHub(app: App, device: FoundDevice): OutputId | null {
  const output = make('output', {
    id: app.newId('output'),
    name: device.name,
    protocol: 'hub',
    hubAddress: device.address,
  });
  return put(app, `Add ${device.name}`, output);
}

/** Brings a string that knows its cells onto the plot, with its shape, its start slots and the way to it. */
export async function addString(app: App, address: string): Promise<void> {
  const answer = await app.live.ask({ ask: 'stringCells', address });
  if (answer?.kind !== 'string') return;
  const records = stringRecords(app.live.document, answer.string, {
    newId: (kind) => app.newId(kind),
    number: nextNumber(app.rig.units),
    address,
  });
  if (!app.live.edit(`Add ${answer.string.name}`, { put: records, remove: [] })) return;
  const unit = records.find((r) => r.kind === 'unit');
  if (unit?.kind !== 'unit') return;
  app.selection.set([unit.id]);
  const wired = records.some((r) => r.kind === 'output') ? ' Its output is made and sends.' : '';
  app.live.tell(
    'note',
    `${unit.name} is on the plot`,
    `${answer.string.cells.length} cells, from its own map.${wired}`,
  );
}

import { lookup } from 'node:dns/promises';
import { getRecord, type Document } from '../../core/document/change.ts';
import { FaultError } from '../../core/faults.ts';
import { lampColour, lampSlotsOf, type LampSlots } from '../../core/lines/devices/lamp.ts';
import { LampPacer } from '../../core/protocol/lamp-pacer.ts';
import {
  deviceHelloSchema,
  hubLampsSchema,
  hubPairedSchema,
  mappedStringSchema,
  type FoundDevice,
  type HubLamp,
  type MappedString,
} from '../../core/protocol/network.ts';
import type { OutputRecord } from '../../core/records/index.ts';

const ASK_MS = 2000;
const LOST_MS = 12_000;
const MOST_ANSWER_BYTES = 4 * 1024 * 1024;
const MOST_DEVICES = 64;

/**
 * Devices of the operator, by address, with the key a hub gave us (empty before it is paired): kept on this machine,
 * never in a show.
 */
export type HubKeys = Readonly<Record<string, string>>;

const refused = (code: string, address: string, message: string, remedy: string): FaultError =>
  new FaultError({ code, path: `http ${address}`, message, received: address, remedy });

/** Asks a device; throws FaultError with what is wrong. Answers are limited and never trusted. */
async function ask(address: string, path: string, init: RequestInit = {}): Promise<{ status: number; json: unknown }> {
  let response: Response;
  try {
    response = await fetch(`http://${address}${path}`, {
      ...init,
      redirect: 'error',
      signal: AbortSignal.timeout(ASK_MS),
    });
  } catch {
    throw refused('DEVICE_AWAY', address, `nothing answers at ${address}`, 'Check its power, network and address.');
  }
  const text = await readLimited(response, address);
  try {
    return { status: response.status, json: JSON.parse(text) as unknown };
  } catch {
    throw refused('DEVICE_RUBBISH', address, `${address} answers no JSON`, 'Is it the device you mean?');
  }
}

async function readLimited(response: Response, address: string): Promise<string> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  try {
    for await (const piece of response.body ?? []) {
      size += (piece as Uint8Array).length;
      if (size > MOST_ANSWER_BYTES) throw new RangeError('too long');
      pieces.push(piece as Uint8Array);
    }
  } catch {
    throw refused('DEVICE_RUBBISH', address, `${address} broke off or answers without end`, 'Try again.');
  }
  return Buffer.concat(pieces).toString('utf8');
}

function refusalWords(status: number, lampId: string): string {
  if (status === 403) return 'the hub does not know us any more: pair again';
  if (status === 404) return `the hub has no lamp ${lampId}`;
  if (status === 429) return 'the hub says it is asked too often';
  return `the hub answers ${status}`;
}

/** Private, link-local and loopback addresses (RFC 1918, 3927, 6598). */
const isLocal = (ip: string): boolean => {
  const [a, b] = ip.split('.').map(Number) as [number, number];
  return (
    a === 10 ||
    a === 127 ||
    (a === 172 && b >= 16 && b < 32) ||
    (a === 192 && b === 168) ||
    (a === 169 && b === 254) ||
    (a === 100 && b >= 64 && b < 128)
  );
};

interface Hub {
  readonly pacer: LampPacer;
  readonly inFlight: Set<string>;
  packets: number;
  errors: number;
  lastError: string | null;
}

/** Smart lamps and strings that know their shape: devices with an HTTP face on the local network. */
export class HubOutputs {
  readonly #hubs = new Map<string, Hub>();
  #lamps: { output: OutputRecord; lampId: string; at: LampSlots }[] = [];
  #keys: HubKeys;
  readonly #seen = new Map<string, Omit<FoundDevice, 'paired'>>();
  readonly #candidates: () => readonly string[];
  readonly #saveKeys: (keys: HubKeys) => Promise<void>;
  readonly #now: () => number;

  constructor(options: {
    keys: HubKeys;
    saveKeys: (keys: HubKeys) => Promise<void>;
    /** Addresses to look at besides those that outputs name. */
    candidates: () => readonly string[];
    now: () => number;
  }) {
    this.#keys = options.keys;
    this.#saveKeys = options.saveKeys;
    this.#candidates = options.candidates;
    this.#now = options.now;
  }

  setOutputs(document: Document, outputs: readonly OutputRecord[]): void {
    const wanted = outputs.filter((o) => o.protocol === 'hub' && o.enabled && o.hubAddress !== null);
    for (const id of this.#hubs.keys()) if (!wanted.some((o) => o.id === id)) this.#hubs.delete(id);
    this.#lamps = wanted.flatMap((output) =>
      output.lamps.flatMap(({ lampId, unitId }) => {
        const at = unitId && getRecord(document, 'unit', unitId) ? lampSlotsOf(document, unitId) : null;
        return at ? [{ output, lampId, at }] : [];
      }),
    );
    for (const output of wanted) {
      if (!this.#hubs.has(output.id))
        this.#hubs.set(output.id, {
          pacer: new LampPacer(),
          inFlight: new Set(),
          packets: 0,
          errors: 0,
          lastError: null,
        });
      const ids = new Set(output.lamps.filter((l) => l.unitId).map((l) => l.lampId));
      this.#hubs.get(output.id)!.pacer.keepOnly(ids);
    }
  }

  get size(): number {
    return this.#hubs.size;
  }

  /** Tells lamps their newest colours, as many as the hub takes. `slotsOf` gives the slots of a universe. */
  send(slotsOf: (universe: number) => Uint8Array | null, now: number): void {
    for (const { output, lampId, at } of this.#lamps) {
      const slots = slotsOf(at.universe);
      if (slots) this.#hubs.get(output.id)?.pacer.want(lampId, lampColour(at, slots));
    }
    for (const [outputId, hub] of this.#hubs) {
      const output = this.#lamps.find((l) => l.output.id === outputId)?.output;
      if (!output) continue;
      const key = this.#keys[output.hubAddress!];
      if (!key) {
        hub.lastError = this.#knows(output.hubAddress!)
          ? 'not paired: press the button of the hub, then pair'
          : `${output.hubAddress} came with the show: say that it is yours first`;
        continue;
      }
      for (const { lampId, colour } of hub.pacer.take(now)) {
        if (hub.inFlight.has(lampId)) hub.pacer.failed(lampId);
        else void this.#tell(hub, output.hubAddress!, key, lampId, colour);
      }
    }
  }

  async #tell(hub: Hub, address: string, key: string, lampId: string, colour: object): Promise<void> {
    hub.inFlight.add(lampId);
    try {
      const { status } = await ask(address, `/lamps/${encodeURIComponent(lampId)}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json', 'x-hub-key': key },
        body: JSON.stringify({ ...colour, transitionMs: 100 }),
      });
      if (status === 200) {
        hub.packets++;
        hub.lastError = null;
        return;
      }
      hub.errors++;
      hub.lastError = refusalWords(status, lampId);
      hub.pacer.failed(lampId);
    } catch (error) {
      hub.errors++;
      hub.lastError = error instanceof FaultError ? error.faults[0]!.message : String(error);
      hub.pacer.failed(lampId);
    } finally {
      hub.inFlight.delete(lampId);
    }
  }

  healthOf(outputId: string): { packets: number; errors: number; lastError: string | null } | null {
    const hub = this.#hubs.get(outputId);
    return hub ? { packets: hub.packets, errors: hub.errors, lastError: hub.lastError } : null;
  }

  /** Looks which devices are there. */
  async probe(outputs: readonly OutputRecord[]): Promise<void> {
    const named = outputs.flatMap((o) => o.hubAddress ?? []).filter((address) => this.#knows(address));
    const addresses = new Set([...this.#candidates(), ...named]);
    await Promise.all([...addresses].slice(0, MOST_DEVICES).map((address) => this.#probeOne(address)));
  }

  async #probeOne(address: string): Promise<void> {
    const now = this.#now();
    try {
      const { json } = await ask(address, '/hello');
      const hello = deviceHelloSchema.safeParse(json);
      if (!hello.success) throw new Error('no device of ours');
      const { kind, name, count } = hello.data;
      this.#seen.set(address, { address, kind, name, count, state: 'found', lastSeenMs: now });
    } catch {
      const known = this.#seen.get(address);
      if (known && now - known.lastSeenMs > LOST_MS) this.#seen.set(address, { ...known, state: 'lost' });
    }
  }

  devices(): FoundDevice[] {
    return [...this.#seen.values()].map((d) => ({ ...d, paired: Boolean(this.#keys[d.address]) }));
  }

  trusted(): string[] {
    return [...new Set([...this.#candidates(), ...Object.keys(this.#keys)])];
  }

  /** True for what was found here, and for what the operator typed: a show from a file names whatever it likes. */
  #knows(address: string): boolean {
    return this.#candidates().includes(address) || Object.hasOwn(this.#keys, address);
  }
  #mustKnow(address: string): void {
    if (!this.#knows(address))
      throw refused(
        'HOST_UNKNOWN',
        address,
        `${address} came with the show; nobody here has said that it is a device of theirs`,
        'If it is yours, say so beside its address.',
      );
  }

  /** The operator says that an address is theirs. Only the local network: nothing is ever sent farther. */
  async trust(address: string): Promise<void> {
    const host = address.slice(0, address.lastIndexOf(':'));
    const found = await lookup(host, { family: 4 }).catch(() => null);
    if (!found) throw refused('DEVICE_AWAY', address, `no address is known for ${host}`, 'Give its IPv4 address.');
    if (!isLocal(found.address))
      throw refused(
        'HOST_FAR',
        address,
        `${host} is not on the local network`,
        'Give the address of a device in this house.',
      );
    if (this.#knows(address)) return;
    this.#keys = { ...this.#keys, [address]: '' };
    await this.#saveKeys(this.#keys);
    await this.#probeOne(address);
  }

  async pair(address: string): Promise<void> {
    this.#mustKnow(address);
    const { status, json } = await ask(address, '/pair', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ client: 'Amber Kite' }),
    });
    if (status === 403)
      throw refused(
        'PRESS_BUTTON',
        address,
        'the button of the hub has not been pressed within the last 30 s',
        'Press the button on the hub, then pair within 30 seconds.',
      );
    const paired = hubPairedSchema.safeParse(json);
    if (status !== 200 || !paired.success)
      throw refused('DEVICE_RUBBISH', address, `${address} did not give a key`, 'Is it the hub you mean?');
    this.#keys = { ...this.#keys, [address]: paired.data.key };
    await this.#saveKeys(this.#keys);
    await this.#probeOne(address);
  }

  async lamps(address: string): Promise<readonly HubLamp[]> {
    this.#mustKnow(address);
    const key = this.#keys[address];
    if (!key) throw refused('NOT_PAIRED', address, 'the hub is not paired', 'Press its button, then pair.');
    const { status, json } = await ask(address, '/lamps', { headers: { 'x-hub-key': key } });
    const lamps = hubLampsSchema.safeParse(json);
    if (status !== 200 || !lamps.success)
      throw refused('DEVICE_RUBBISH', address, `${address} does not list its lamps (${status})`, 'Pair again.');
    return lamps.data.lamps;
  }

  async string(address: string): Promise<MappedString> {
    this.#mustKnow(address);
    const { json } = await ask(address, '/cells');
    const string = mappedStringSchema.safeParse(json);
    if (!string.success)
      throw refused(
        'DEVICE_RUBBISH',
        address,
        `${address} does not tell its cells soundly (${string.error.issues[0]?.path.join('.') ?? ''})`,
        'Map the string again in its own program.',
      );
    return string.data;
  }
}

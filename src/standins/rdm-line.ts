import { discover, type Discovered } from '../core/protocol/rdm-discovery.ts';
import { decodeRdm, encodeRdm, DISCOVERY, PID, type Uid } from '../core/protocol/rdm.ts';
import { collide, type RdmResponder } from './rdm-responder.ts';

/** The DMX line behind one port of a gateway, with RDM devices on it. */
export class RdmLine {
  readonly responders: readonly RdmResponder[];
  #found: readonly Uid[] = [];
  #finding: Promise<Discovered> | null = null;

  constructor(responders: readonly RdmResponder[]) {
    this.responders = responders;
  }

  get found(): readonly Uid[] {
    return this.#found;
  }

  /** Finds the devices anew, as a gateway does: by halving the range until one answers alone. */
  async find(): Promise<readonly Uid[]> {
    this.#finding ??= discover({
      branch: (low, high) =>
        collide(
          this.responders.flatMap((r) => {
            const answer = r.branch(low, high);
            return answer ? [answer] : [];
          }),
        ),
      mute: (uid) => this.#mute(uid),
      unmuteAll: () => {
        for (const responder of this.responders) responder.muted = false;
      },
    }).finally(() => (this.#finding = null));
    this.#found = (await this.#finding).uids;
    return this.#found;
  }

  #mute(uid: Uid): boolean {
    const responder = this.responders.find((r) => r.uid === uid);
    if (!responder) return false;
    return (
      responder.handle({
        to: uid,
        from: '7ff0:00000001',
        transaction: 0,
        portOrType: 1,
        subDevice: 0,
        commandClass: DISCOVERY,
        pid: PID.DISC_MUTE,
        data: new Uint8Array(0),
      }) !== null
    );
  }

  /** A message put on the line: what comes back, in bytes. A faulty device answers with a wrong checksum. */
  exchange(bytes: Uint8Array): Uint8Array | null {
    const decoded = decodeRdm(bytes);
    if (!decoded.ok) return null;
    for (const responder of this.responders) {
      const answer = responder.handle(decoded.value);
      if (!answer) continue;
      const encoded = encodeRdm(answer);
      if (responder.options.faulty) encoded[encoded.length - 1]! ^= 0x5a;
      return encoded;
    }
    return null;
  }
}

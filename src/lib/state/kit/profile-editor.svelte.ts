import { faultsFromZod, type Fault } from '$core/faults.ts';
import { impactOf, type ProfileImpact } from '$core/patch/impact.ts';
import { freeKey } from '$core/profile/keys.ts';
import { addChannels, fillMode, joinFine } from '$core/profile/write.ts';
import { profileFaults } from '$core/profile/layout.ts';
import type { ProfileRecord } from '$core/records/index.ts';
import { profileSchema, type Channel, type Mode } from '$core/records/profile.ts';
import type { App } from '../app.svelte.ts';
import { faultWords } from '../words.ts';

/** A change that touches units or scenes and waits for the person to see what it does. */
export interface Asking {
  readonly label: string;
  readonly next: ProfileRecord;
  readonly impact: ProfileImpact;
}

/** Writing one profile of the open show: every edit is checked, and asked about when it touches what is in use. */
export class ProfileEditor {
  readonly #app: App;
  readonly #id: () => string;
  asking = $state.raw<Asking | null>(null);
  /** Key of the channel and of the mode being looked at. */
  channelKey = $state<string | null>(null);
  modeKey = $state<string | null>(null);

  constructor(app: App, id: () => string) {
    this.#app = app;
    this.#id = id;
  }

  readonly profile = $derived.by(() => this.#app.rig.profile(this.#id()));
  readonly channel = $derived(
    this.profile?.channels.find((c) => c.key === this.channelKey) ?? this.profile?.channels[0],
  );
  readonly mode = $derived(this.profile?.modes.find((m) => m.key === this.modeKey) ?? this.profile?.modes[0]);
  readonly usedBy = $derived.by(() => this.#app.rig.units.filter((u) => u.profileId === this.profile?.id));

  /** Saves a changed profile, or asks first. Returns what is wrong with it in words, or null. */
  save(label: string, next: ProfileRecord): string | null {
    const parsed = profileSchema.safeParse(next);
    const faults: Fault[] = parsed.success ? profileFaults(parsed.data) : faultsFromZod(parsed.error, next);
    if (faults[0] || !parsed.success) return faults[0] ? faultWords(faults[0]) : 'Not sound.';
    const impact = impactOf(this.#app.live.document, parsed.data);
    if (matters(impact)) this.asking = { label, next: parsed.data, impact };
    else this.#put(label, parsed.data);
    return null;
  }

  #put(label: string, next: ProfileRecord): void {
    this.#app.live.edit(`${label} of ${next.model}`, { put: [next], remove: [] });
  }

  confirm(): void {
    if (this.asking) this.#put(this.asking.label, this.asking.next);
    this.asking = null;
  }
  cancel(): void {
    this.asking = null;
  }

  set(label: string, fields: Partial<ProfileRecord>): string | null {
    return this.profile ? this.save(label, { ...this.profile, ...fields }) : null;
  }

  setChannel(label: string, key: string, fields: Partial<Channel>): string | null {
    if (!this.profile) return null;
    const channels = this.profile.channels.map((c) => (c.key === key ? { ...c, ...fields } : c));
    return this.save(label, { ...this.profile, channels });
  }

  setMode(label: string, key: string, fields: Partial<Mode>): string | null {
    if (!this.profile) return null;
    const modes = this.profile.modes.map((m) => (m.key === key ? { ...m, ...fields } : m));
    return this.save(label, { ...this.profile, modes });
  }

  /** Adds channels by their names; where `into` is given, their slots go to the end of that mode. */
  addChannels(names: readonly string[], into: Mode | null, apart = false): string | null {
    if (!this.profile) return null;
    const { profile, added, joined } = addChannels(this.profile, names, into?.key ?? null, apart);
    const fault = this.save(added.length + joined.length > 1 ? 'Channels' : 'Channel', profile);
    if (fault === null) this.channelKey = added.at(-1) ?? joined.at(-1) ?? this.channelKey;
    return fault;
  }

  /** Puts every channel that a mode does not have yet at its end. */
  fill(mode: Mode): string | null {
    return this.profile ? this.setMode('All channels', mode.key, { slots: fillMode(this.profile, mode) }) : null;
  }

  /** Makes a channel the fine byte of the one its name speaks of. */
  join(channel: Channel): string | null {
    return this.profile ? this.save(`Join ${channel.name}`, joinFine(this.profile, channel.key)) : null;
  }

  removeChannel(key: string): string | null {
    if (!this.profile) return null;
    const uses = (slots: Mode['slots']): Mode['slots'] =>
      slots.flatMap((slot): Mode['slots'] => {
        if ('unused' in slot) return [slot];
        if ('cells' in slot) {
          const left = slot.slots.filter((s) => s.channel !== key);
          return left.length > 0 ? [{ ...slot, slots: left }] : [];
        }
        return slot.channel === key ? [] : [slot];
      });
    return this.save('Remove a channel', {
      ...this.profile,
      channels: this.profile.channels.filter((c) => c.key !== key),
      modes: this.profile.modes.map((m) => {
        const slots = uses(m.slots);
        return { ...m, slots: slots.length > 0 ? slots : [{ unused: true as const }] };
      }),
    });
  }

  addMode(name: string, from: Mode | undefined): string | null {
    if (!this.profile) return null;
    const key = freeKey(
      name,
      this.profile.modes.map((m) => m.key),
    );
    const slots = from ? [...from.slots] : [{ channel: this.profile.channels[0]!.key, byte: 0 }];
    this.modeKey = key;
    return this.save('Mode', { ...this.profile, modes: [...this.profile.modes, { key, name, slots }] });
  }
}

/** True when a change does something to units or scenes that a person should see before. */
const matters = (impact: ProfileImpact): boolean =>
  impact.units.some((u) => u.modeGone || u.footprintAfter !== u.footprintBefore) ||
  impact.scenes.some((s) => s.lost.length > 0);

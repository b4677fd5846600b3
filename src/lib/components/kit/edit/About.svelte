<script lang="ts">
  import { FIXTURE_KINDS } from '$core/records/profile.ts';
  import type { ProfileRecord } from '$core/records/index.ts';
  import { KIND_WORDS } from '$lib/state/kinds.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { parseNumber } from '$core/numbers.ts';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';

  /** Who makes it, what it is, and what it measures, weighs and takes. */
  let { editor, profile }: { editor: ProfileEditor; profile: ProfileRecord } = $props();
  const MEASURES = [
    ['powerW', 'Power', 'W'],
    ['panDeg', 'Pan range', '°'],
    ['tiltDeg', 'Tilt range', '°'],
    ['beamDeg', 'Beam angle', '°'],
    ['fieldDeg', 'Field angle', '°'],
    ['beamFromDeg', 'Beam set by hand, from', '°'],
    ['beamToDeg', 'Beam set by hand, to', '°'],
    ['fluxLm', 'Luminous flux', 'lm'],
    ['widthMm', 'Width', 'mm'],
    ['heightMm', 'Height', 'mm'],
    ['depthMm', 'Depth', 'mm'],
    ['massKg', 'Mass', 'kg'],
  ] as const;
  function measure(key: (typeof MEASURES)[number][0], text: string): string | null {
    const { [key]: _, ...rest } = profile.physical;
    if (text.trim() === '') return editor.set('Measures', { physical: rest });
    const value = parseNumber(text);
    if (value === null) return `“${text.slice(0, 20)}” is not a number.`;
    return editor.set('Measures', { physical: { ...rest, [key]: value } });
  }
  const address = $derived(profile.unitNumber ? 'unit' : profile.dipSwitches ? 'dip' : 'menu');
  const dip = $derived(profile.dip ?? { highFirst: false });
  const MODE_SWITCHES = [
    { value: 'none', text: 'none' },
    ...[10, 11, 12].flatMap((n) =>
      ['off', 'on'].map((state) => ({ value: `${n} ${state}`, text: `${n}, ${state} for DMX` })),
    ),
  ];
  function setModeSwitch(value: string): void {
    const [number, state] = value.split(' ');
    const modeSwitch = value === 'none' ? {} : { modeSwitch: { number: Number(number), on: state === 'on' } };
    editor.set('Switches', { dip: { highFirst: dip.highFirst, ...modeSwitch } });
  }
  function setAddress(how: 'menu' | 'dip' | 'unit'): void {
    const { unitNumber: _, ...rest } = profile;
    editor.save('How it is addressed', {
      ...rest,
      dipSwitches: how !== 'menu',
      ...(how === 'unit' ? { unitNumber: { circuits: 4, base: 10 as const } } : {}),
    });
  }
</script>

<div class="form">
  <Field label="Maker" value={profile.maker} save={(t) => editor.set('Maker', { maker: t.trim() })} />
  <Field label="Model" value={profile.model} save={(t) => editor.set('Model', { model: t.trim() })} />
  <Choice
    label="Kind"
    value={profile.fixtureKind}
    options={FIXTURE_KINDS.map((k) => ({ value: k, text: KIND_WORDS[k] }))}
    choose={(fixtureKind) => editor.set('Kind', { fixtureKind })}
  />
  <Field label="Written by" value={profile.author} save={(author) => editor.set('Author', { author: author.trim() })} />
  <Field
    label="Revision"
    numeric
    value={profile.revision}
    save={(t) => editor.set('Revision', { revision: parseNumber(t) ?? NaN })}
  />
  <Choice
    label="Address is set by"
    value={address}
    options={[
      { value: 'menu', text: 'menu' },
      { value: 'dip', text: 'DIP switches' },
      { value: 'unit', text: 'unit number' },
    ]}
    choose={setAddress}
  />
  {#if address === 'dip'}
    <Choice
      label="Switch 1 is worth"
      value={dip.highFirst ? '256' : '1'}
      options={[
        { value: '1', text: '1' },
        { value: '256', text: '256' },
      ]}
      choose={(v) => editor.set('Switches', { dip: { ...dip, highFirst: v === '256' } })}
    />
    <Choice
      label="Mode switch"
      value={dip.modeSwitch ? `${dip.modeSwitch.number} ${dip.modeSwitch.on ? 'on' : 'off'}` : 'none'}
      options={MODE_SWITCHES}
      choose={setModeSwitch}
    />
  {/if}
  {#if profile.unitNumber}
    <Field
      label="Circuits of a unit number"
      numeric
      value={profile.unitNumber.circuits}
      save={(t) => editor.set('Circuits', { unitNumber: { ...profile.unitNumber!, circuits: parseNumber(t) ?? NaN } })}
    />
  {/if}
  <Choice
    label="Addresses count from"
    value={profile.addressFromZero ? '0' : '1'}
    options={[
      { value: '1', text: '1' },
      { value: '0', text: '0' },
    ]}
    choose={(v) => editor.set('Counting', { addressFromZero: v === '0' })}
  />
  <Choice
    label="Past the end of a universe"
    value={profile.flow ? 'flow' : 'stay'}
    options={[
      { value: 'stay', text: 'never: it stays in one' },
      { value: 'flow', text: 'cells flow into the next' },
    ]}
    choose={(v) => editor.set('Flow', { flow: v === 'flow' })}
  />
</div>
<h3>Measures</h3>
<div class="form">
  {#each MEASURES as [key, label, unit] (key)}
    <Field {label} numeric suffix={unit} value={profile.physical[key] ?? ''} save={(t) => measure(key, t)} />
  {/each}
  <Field
    label="Connectors"
    value={profile.physical.connectors ?? ''}
    save={(t) => editor.set('Connectors', { physical: { ...profile.physical, connectors: t.trim() || undefined } })}
  />
</div>
<Field multiline label="Notes" value={profile.notes} save={(notes) => editor.set('Notes', { notes })} />

<style>
  .form {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(170px, 1fr));
    gap: 10px;
  }
  h3 {
    margin: 8px 0 0;
    font-size: 14px;
  }
</style>

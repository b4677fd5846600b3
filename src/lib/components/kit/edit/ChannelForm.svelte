<script lang="ts">
  import { ATTRIBUTE_PATTERNS, attributeInfo, isAttribute } from '$core/attributes.ts';
  import { fullScale } from '$core/profile/layout.ts';
  import { coarseOf, withBits } from '$core/profile/write.ts';
  import type { Channel } from '$core/records/profile.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { parseNumber } from '$core/numbers.ts';
  import Button from '../../Button.svelte';
  import Choice from '../../Choice.svelte';
  import Field from '../../Field.svelte';
  import RangeRuler from '../RangeRuler.svelte';
  import RangeTable from './RangeTable.svelte';

  /** One channel: what it does, how fine, where it rests, and its ranges. */
  let { editor, channel, tryValue }: { editor: ProfileEditor; channel: Channel; tryValue: (value: number) => void } =
    $props();
  const FAMILIES = { level: 'Level', colour: 'Colour', aim: 'Aim', beam: 'Beam', effect: 'Effect', control: 'Control' };
  /** Numbered attributes up to 4; an attribute outside the list stays as it is. */
  const options = $derived.by(() => {
    const all = ATTRIBUTE_PATTERNS.flatMap(({ pattern, family }) =>
      (pattern.includes('{n}') ? [1, 2, 3, 4] : [0]).map((n) => {
        const name = pattern.replace('{n}', String(n)).replace('{m}', '1');
        return { value: name, text: `${FAMILIES[family]}: ${attributeInfo(name)?.words ?? name}` };
      }),
    );
    return all.some((o) => o.value === channel.attribute)
      ? all
      : [{ value: channel.attribute, text: attributeInfo(channel.attribute)?.words ?? channel.attribute }, ...all];
  });
  function save(label: string, fields: Partial<Channel>): string | null {
    return editor.setChannel(label, channel.key, fields);
  }
  function number(key: 'home' | 'highlight', text: string): string | null {
    if (key === 'highlight' && text.trim() === '') return save('Light-it value', { highlight: undefined });
    const value = parseNumber(text);
    if (value === null || !Number.isInteger(value)) return `“${text.slice(0, 20)}” is not a whole number.`;
    return save(key === 'home' ? 'Rest value' : 'Light-it value', { [key]: value });
  }
  function bits(text: '8' | '16' | '24'): void {
    const { bits, home, highlight } = withBits(channel, Number(text) as 8 | 16 | 24);
    save('Resolution', { bits, home, ...(highlight === undefined ? {} : { highlight }) });
  }
  /** The channel that this one is the fine byte of, by its name. */
  const coarse = $derived(
    coarseOf(
      (editor.profile?.channels ?? []).filter((c) => c.key !== channel.key),
      channel.name,
    ),
  );
  let fault = $state<string | null>(null);
</script>

<div class="form">
  <Field label="Name" value={channel.name} save={(name) => save('Name of a channel', { name: name.trim() })} />
  <Choice
    label="Does"
    value={channel.attribute}
    {options}
    choose={(attribute) => isAttribute(attribute) && save('Attribute', { attribute })}
  />
  <Choice
    label="Resolution"
    value={String(channel.bits) as '8' | '16' | '24'}
    options={[
      { value: '8', text: '8 bit' },
      { value: '16', text: '16 bit' },
      { value: '24', text: '24 bit' },
    ]}
    choose={bits}
  />
  <Choice
    label="In a fade"
    value={channel.snap ? 'snap' : 'fade'}
    options={[
      { value: 'fade', text: 'fades' },
      { value: 'snap', text: 'jumps at the start' },
    ]}
    choose={(v) => save('Fade or jump', { snap: v === 'snap' })}
  />
  <Field
    label="At rest (0-{fullScale(channel.bits)})"
    numeric
    value={channel.home}
    save={(text) => number('home', text)}
  />
  <Field
    label="When it is lit"
    numeric
    value={channel.highlight ?? ''}
    placeholder="worked out"
    save={(text) => number('highlight', text)}
  />
</div>
{#if coarse}
  <p class="join">
    This reads like the fine byte of {coarse.name}.
    <Button onclick={() => (fault = editor.join(channel))}>Make {coarse.name} {coarse.bits + 8} bit</Button>
  </p>
{/if}
{#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
<RangeRuler
  {channel}
  pictures={editor.profile?.pictures ?? {}}
  physical={editor.profile?.physical ?? {}}
  pick={tryValue}
/>
<RangeTable {editor} {channel} />

<style>
  .form {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(160px, 1fr));
    gap: 10px;
  }
  .join {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    margin: 0;
  }
  .fault {
    color: var(--wrong);
  }
</style>

<script lang="ts">
  import { Popover } from 'bits-ui';
  import { freeKey } from '$core/profile/keys.ts';
  import { PICTURE_NAMES } from '$core/profile/pictures.ts';
  import type { Range } from '$core/records/profile.ts';
  import type { ProfileEditor } from '$lib/state/kit/profile-editor.svelte.ts';
  import { safePicture } from '$lib/state/pictures/picture-upload.ts';
  import Button from '../../Button.svelte';
  import ImportFile from '../../ImportFile.svelte';
  import Picture from '../Picture.svelte';

  /** What a range looks like: a colour or two halves, one of our pictures, or an uploaded one made safe. */
  interface Props {
    editor: ProfileEditor;
    range: Range;
    coloured: boolean;
    change: (fields: Partial<Range>) => void;
  }
  let { editor, range, coloured, change }: Props = $props();
  const own = $derived(editor.profile?.pictures ?? {});
  let fault = $state<string | null>(null);
  let open = $state(false);

  async function upload(file: File): Promise<void> {
    fault = null;
    try {
      const picture = await safePicture(file);
      const key = freeKey(file.name.replace(/\.\w+$/, ''), Object.keys(own));
      const { profile } = editor;
      if (!profile) return;
      const channels = profile.channels.map((c) => ({
        ...c,
        ranges: c.ranges.map((r) =>
          c.key === editor.channel?.key && r.from === range.from ? { ...r, picture: `own:${key}` } : r,
        ),
      }));
      fault = editor.save('Picture', { ...profile, pictures: { ...own, [key]: picture }, channels });
    } catch (error) {
      fault = (error as Error).message;
    }
  }
</script>

<Popover.Root bind:open>
  <Popover.Trigger>
    {#snippet child({ props })}
      <button type="button" class="trigger" {...props} aria-label="Look of {range.name}">
        {#if range.colour || range.picture}
          <Picture colour={range.colour} colour2={range.colour2} picture={range.picture} {own} size={22} />
        {:else}<span class="quiet">–</span>{/if}
      </button>
    {/snippet}
  </Popover.Trigger>
  <Popover.Portal>
    <Popover.Content side="bottom" align="start" sideOffset={4}>
      {#snippet child({ props, wrapperProps, open: shown })}
        {#if shown}
          <div {...wrapperProps}>
            <div {...props} class="pick">
              <div class="line">
                <label
                  >Colour <input
                    type="color"
                    value={range.colour ?? '#ffffff'}
                    onchange={(e) => change({ colour: e.currentTarget.value })}
                  /></label
                >
                {#if coloured && range.colour}
                  <label
                    >Other half <input
                      type="color"
                      value={range.colour2 ?? range.colour}
                      onchange={(e) => change({ colour2: e.currentTarget.value })}
                    /></label
                  >
                {/if}
                <Button
                  kind="bare"
                  onclick={() => change({ colour: undefined, colour2: undefined, picture: undefined })}>Nothing</Button
                >
              </div>
              <div class="grid">
                {#each PICTURE_NAMES as name (name)}
                  <button
                    type="button"
                    aria-label={name}
                    title={name}
                    aria-pressed={range.picture === name}
                    onclick={() => change({ picture: name })}><Picture picture={name} size={26} /></button
                  >
                {/each}
                {#each Object.keys(own) as key (key)}
                  <button
                    type="button"
                    aria-label={key}
                    title={key}
                    aria-pressed={range.picture === `own:${key}`}
                    onclick={() => change({ picture: `own:${key}` })}
                    ><Picture picture="own:{key}" {own} size={26} /></button
                  >
                {/each}
              </div>
              <ImportFile text="PNG or SVG" accept="image/png,image/svg+xml" take={(file) => void upload(file)} />
              {#if fault}<p class="fault" role="alert">▲ {fault}</p>{/if}
            </div>
          </div>
        {/if}
      {/snippet}
    </Popover.Content>
  </Popover.Portal>
</Popover.Root>

<style>
  .trigger {
    min-width: 40px;
    min-height: 30px;
    border: 1px solid transparent;
    border-radius: 4px;
    background: none;
  }
  .trigger:hover {
    border-color: var(--line-strong);
  }
  .pick {
    display: grid;
    gap: 10px;
    width: 300px;
    padding: 12px;
    background: var(--raised);
    border: 1px solid var(--line-strong);
    border-radius: 8px;
    z-index: 70;
  }
  .line {
    display: flex;
    gap: 12px;
    align-items: center;
  }
  .line label {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(8, 1fr);
    gap: 2px;
  }
  .grid button {
    border: 1px solid transparent;
    border-radius: 4px;
    background: none;
    padding: 2px;
  }
  .grid button[aria-pressed='true'] {
    border-color: var(--amber);
  }
  .fault {
    color: var(--wrong);
  }
</style>

<script lang="ts">
  import type { ShowRecord } from '$core/records/index.ts';
  import Button from '$lib/components/Button.svelte';
  import Check from '$lib/components/Check.svelte';
  import Field from '$lib/components/Field.svelte';
  import Mark from '$lib/components/Mark.svelte';
  import Step from '$lib/components/Step.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { saveNumber } from '$lib/state/entry.ts';
  import { parseNumber } from '$core/numbers.ts';
  import Moon from '@lucide/svelte/icons/moon';
  import Sun from '@lucide/svelte/icons/sun';

  const app = getApp();
  const show = $derived(app.rig.show);
  const put = (label: string, fields: Partial<ShowRecord>): void => {
    if (show) app.live.edit(label, { put: [{ ...show, ...fields }], remove: [] });
  };
  function name(text: string): string | null {
    if (text.trim() === '' || text.length > 100) return 'Give a name of 1 to 100 characters.';
    put('Name of the show', { name: text.trim() });
    return null;
  }
  function frameRate(text: string): string | null {
    const value = parseNumber(text);
    if (value === null || !Number.isInteger(value) || value < 10 || value > 44)
      return 'Give a whole number from 10 to 44: DMX512 cannot go faster.';
    put('Frame rate', { frameRate: value });
    return null;
  }
  const safety = (fields: Partial<ShowRecord['safety']>): void =>
    put('Limits of flashing', { safety: { ...show!.safety, ...fields } });
  function measure(key: 'widthM' | 'depthM' | 'heightM', most: number, text: string): string | null {
    const value = parseNumber(text);
    if (value === null || value < 1 || value > most) return `Give 1 to ${most} metres.`;
    put('Size of the room', { room: { ...show!.room, [key]: value } });
    return null;
  }
  function roomName(text: string): string | null {
    if (text.trim() === '' || text.length > 100) return 'Give a name of 1 to 100 characters.';
    put('Name of the room', { room: { ...show!.room, name: text.trim() } });
    return null;
  }
</script>

<Step title="Settings">
  {#if show}
    <div class="all">
      <section>
        <h2>Show</h2>
        <Field label="Name" value={show.name} save={name} />
        <Field label="Frames a second (10-44)" numeric value={show.frameRate} save={frameRate} />
      </section>
      <section>
        <h2>Flashing</h2>
        <p class="quiet">
          Fast flashes over a large part of the plot can make people ill. They are held back last of all, whatever is
          programmed.
        </p>
        <Check
          label="Hold back flashes that are not safe"
          checked={show.safety.limitFlashes}
          change={(limitFlashes) => safety({ limitFlashes })}
        />
        {#if !show.safety.limitFlashes}
          <p class="lifted" role="alert">
            <Mark kind="look" /> Lifted: flashes are sent as they are programmed. Tell everybody who can see them.
          </p>
        {/if}
        <div class="three">
          <Field
            label="At most, a second"
            numeric
            value={show.safety.flashesPerSecond}
            save={(t) => saveNumber(t, 0.5, 20, (flashesPerSecond) => safety({ flashesPerSecond }))}
          />
          <Field
            label="Over more than"
            numeric
            suffix="%"
            value={Math.round(show.safety.share * 100)}
            save={(t) => saveNumber(t, 0, 100, (percent) => safety({ share: percent / 100 }))}
          />
          <Field
            label="No strobe faster than"
            numeric
            suffix="Hz"
            value={show.safety.strobeHz}
            save={(t) => saveNumber(t, 0.5, 50, (strobeHz) => safety({ strobeHz }))}
          />
        </div>
      </section>
      <section>
        <h2>Room</h2>
        <Field label="Name" value={show.room.name} save={roomName} />
        <div class="three">
          <Field label="Width" numeric suffix="m" value={show.room.widthM} save={(t) => measure('widthM', 2000, t)} />
          <Field label="Depth" numeric suffix="m" value={show.room.depthM} save={(t) => measure('depthM', 2000, t)} />
          <Field label="Height" numeric suffix="m" value={show.room.heightM} save={(t) => measure('heightM', 200, t)} />
        </div>
        <Check
          label="Walls and ceiling"
          checked={show.room.walls}
          change={(walls) => put('Walls of the room', { room: { ...show.room, walls } })}
        />
      </section>
      <section>
        <h2>This browser</h2>
        <div class="row" role="group" aria-label="Theme">
          <Button pressed={app.theme === 'dark'} onclick={() => app.setTheme('dark')}><Moon size={16} /> Dark</Button>
          <Button pressed={app.theme === 'light'} onclick={() => app.setTheme('light')}><Sun size={16} /> Light</Button>
        </div>
      </section>
    </div>
  {/if}
</Step>

<style>
  .lifted {
    display: flex;
    gap: 6px;
    color: var(--look);
  }
  .all {
    overflow: auto;
    padding: 4px 16px 24px;
    display: grid;
    gap: 26px;
    max-width: 520px;
  }
  section {
    display: grid;
    gap: 10px;
  }
  .three {
    display: grid;
    grid-template-columns: repeat(3, 1fr);
    gap: 10px;
  }
  .row {
    display: flex;
    gap: 8px;
  }
</style>

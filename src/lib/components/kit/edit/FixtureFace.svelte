<script lang="ts">
  import { encodeSrgb } from '$core/colour/convert.ts';
  import { documentOf } from '$core/document/change.ts';
  import { rangeAt } from '$core/profile/layout.ts';
  import { layoutOf } from '$core/patch/of-document.ts';
  import { makeReader, readActivity, readCell, readSource, type CellLight } from '$core/patch/readout.ts';
  import { make, type ProfileRecord } from '$core/records/index.ts';
  import Picture from '../Picture.svelte';

  /** The fixture drawn as what it does with these bytes: its cells, where it points, which wheel slots are in. */
  let { profile, mode, values }: { profile: ProfileRecord; mode: string; values: Uint8Array } = $props();
  const reader = $derived.by(() => {
    const unit = make('unit', {
      id: 'unit:face',
      number: 1,
      name: 'Face',
      profileId: profile.id,
      mode,
      patch: { universe: 1, address: 1 },
    });
    return makeReader(documentOf([profile, unit]), unit);
  });
  const frames = $derived.by(() => {
    const found = new Map<number, Uint8Array>();
    for (let u = 0; u * 512 < Math.max(1, values.length); u++) {
      const slots = new Uint8Array(512);
      slots.set(values.subarray(u * 512, u * 512 + 512));
      found.set(u + 1, slots);
    }
    return found;
  });
  const MOST = 256;
  const cells = $derived(
    reader.cells.slice(0, MOST).map((_, i) => {
      const light: CellLight = readCell(reader, i, frames, { r: 0, g: 0, b: 0, strobing: false });
      const part = (v: number): number => Math.round(encodeSrgb(Math.min(1, v)) * 255);
      return {
        colour: `rgb(${part(light.r)} ${part(light.g)} ${part(light.b)})`,
        lit: light.r + light.g + light.b > 0.004,
        strobing: light.strobing,
      };
    }),
  );
  const slots = $derived(
    layoutOf(profile, mode).channels.flatMap(({ channel, offsets, cell }) => {
      const range = cell <= 1 ? rangeAt(channel, values[offsets[0]!] ?? 0) : undefined;
      return range && channel.snap ? [{ key: channel.key, name: channel.name, range }] : [];
    }),
  );
  const aim = $derived({
    pan: reader.pan ? readSource(reader.pan, frames) : null,
    tilt: reader.tilt ? readSource(reader.tilt, frames) : null,
  });
  /** Only of fixtures that make no light. */
  const shines = $derived(reader.cells.some((c) => c.level !== null || c.emitters.length > 0 || c.shutter !== null));
  const activity = $derived(shines ? 0 : readActivity(reader, frames));
  const side = $derived(cells.length === 1 ? 64 : cells.length <= 16 ? 26 : cells.length <= 64 ? 18 : 10);
</script>

<div class="face" aria-label="What the fixture does now">
  <div class="cells">
    {#each cells as cell, i (i)}
      <i
        class:strobing={cell.strobing}
        style:width="{side}px"
        style:height="{side}px"
        style:background={cell.lit ? cell.colour : '#1a1f29'}
        style:box-shadow={cell.lit ? `0 0 ${side / 2}px ${cell.colour}` : 'none'}
      ></i>
    {/each}
  </div>
  <dl>
    {#if aim.pan !== null}<dt>Pan</dt>
      <dd class="num">{Math.round((aim.pan - 0.5) * (profile.physical.panDeg ?? 540))}°</dd>{/if}
    {#if aim.tilt !== null}<dt>Tilt</dt>
      <dd class="num">{Math.round((aim.tilt - 0.5) * (profile.physical.tiltDeg ?? 270))}°</dd>{/if}
    {#each slots as slot (slot.key)}
      <dt>{slot.name}</dt>
      <dd>
        <Picture
          colour={slot.range.colour}
          colour2={slot.range.colour2}
          picture={slot.range.picture}
          own={profile.pictures}
          size={20}
        />
        {slot.range.name}
      </dd>
    {/each}
    {#if activity > 0}<dt>Busy</dt>
      <dd class="num">{Math.round(activity * 100)} %</dd>{/if}
  </dl>
</div>

<style>
  .face {
    display: grid;
    gap: 10px;
    padding: 12px;
    background: #0a0d13;
    color: #e8ecf3;
    border-radius: 8px;
  }
  .cells {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    min-height: 40px;
    align-items: center;
  }
  i {
    border-radius: 50%;
    border: 1px solid #394357;
  }
  .strobing {
    outline: 2px dashed #f3e28a;
    outline-offset: 1px;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 2px 12px;
    margin: 0;
    font-size: 13px;
  }
  dt {
    color: #a3aec0;
  }
  dd {
    margin: 0;
    text-align: right;
  }
</style>

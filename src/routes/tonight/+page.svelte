<script lang="ts">
  import { likelyFrom } from '$core/aim/usual.ts';
  import { outOfReach } from '$core/aim/table.ts';
  import { aimsOf } from '$core/aim/solutions.ts';
  import { roomSetIn, switchRoom, type RoomSwitch, type SetIn } from '$core/edits/rooms.ts';
  import type { RoomId, ThingId } from '$core/ids.ts';
  import { LENGTH_UNIT, lengthNumber, parseLength } from '$core/plot/lengths.ts';
  import { bounds, tidy } from '$core/plot/paper.ts';
  import { removalOf } from '$core/rules/removal.ts';
  import Beside from '$lib/components/Beside.svelte';
  import AlonePage from '$lib/components/aims/AlonePage.svelte';
  import Button from '$lib/components/Button.svelte';
  import CorrectAims from '$lib/components/aims/CorrectAims.svelte';
  import RoomPlan from '$lib/components/aims/RoomPlan.svelte';
  import Field from '$lib/components/Field.svelte';
  import NameField from '$lib/components/NameField.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';

  /** Tonight's room: choose it or say how large it is and where things are; the rig is set in, and the aims are gone through. */
  const app = getApp();
  const rooms = $derived(app.rig.rooms);
  const show = $derived(app.rig.show);
  const lengths = $derived(show?.lengths ?? 'metres');
  type Step = 'choose' | 'measure' | 'aims';
  let step = $state<Step>('choose');
  let notes = $state.raw<readonly string[]>([]);
  const missed = $derived(step === 'choose' ? [] : outOfReach(app.live.document));
  const byAim = $derived.by(() => {
    const found = new Map<string, { id: string; name: string; heads: string[] }>();
    for (const { aim, unit, solution } of missed) {
      const entry = found.get(aim.id) ?? { id: aim.id, name: aim.name, heads: [] };
      entry.heads.push(`${unit.number} by ${Math.round(solution.missDeg)}°`);
      found.set(aim.id, entry);
    }
    return [...found.values()];
  });

  let name = $state('');
  let size = $state({ widthM: 12, depthM: 8, heightM: 3.5 });
  let places = $state.raw<ReadonlyMap<ThingId, { x: number; y: number }>>(new Map());
  let floor = $state.raw<SetIn['floor']>(null);
  /** What people carry along and put somewhere else each night. */
  const carriedAlong = $derived(
    app.rig.things.filter((t) => ['booth', 'stand', 'loudspeaker'].includes(t.shape)).slice(0, 12),
  );
  function measure(): void {
    const room = app.rig.room;
    name = `${room.name.slice(0, 90)} 2`;
    size = { widthM: room.widthM, depthM: room.depthM, heightM: room.heightM };
    const { floorId } = likelyFrom(app.live.document);
    const box = bounds(app.rig.areas.find((a) => a.id === floorId)?.outline ?? []);
    floor = floorId && box ? { id: floorId, ...box } : null;
    places = new Map(carriedAlong.map((t) => [t.id, { x: t.position.x, y: t.position.y }]));
    step = 'measure';
  }
  /** Everything keeps its share of the room when that gets another size. */
  function resize(side: 'widthM' | 'depthM' | 'heightM', text: string): string | null {
    const metres = parseLength(text, lengths);
    const most = side === 'heightM' ? 200 : 2000;
    if (metres === null || metres < 1 || metres > most) return `Give 1 to ${most} m, such as 12 or 40 ft.`;
    const by = metres / size[side];
    size = { ...size, [side]: metres };
    if (side === 'heightM') return null;
    const axis = side === 'widthM' ? 'x' : 'y';
    places = new Map([...places].map(([id, p]) => [id, { ...p, [axis]: tidy(p[axis] * by) }]));
    if (floor)
      floor = {
        ...floor,
        min: { ...floor.min, [axis]: tidy(floor.min[axis] * by) },
        max: { ...floor.max, [axis]: tidy(floor.max[axis] * by) },
      };
    return null;
  }

  function enter(label: string, made: RoomSwitch): void {
    if (made.change.put.length === 0 || !app.live.edit(label, made.change)) return;
    notes = made.notes;
    step = 'aims';
  }
  const go = (id: RoomId, called: string): void =>
    enter(
      `Go to ${called}`,
      switchRoom(app.live.document, id, () => app.newId('room')),
    );
  function setIn(): void {
    const walls = app.rig.room.walls;
    const given: SetIn = { measures: { name: name.trim() || 'Room', ...size, walls }, things: places, floor };
    enter(
      `Set the rig into ${given.measures.name}`,
      roomSetIn(app.live.document, given, { room: app.newId('room'), left: () => app.newId('room') }),
    );
  }
  const SIDES = [
    ['widthM', 'Width'],
    ['depthM', 'Depth'],
    ['heightM', 'Height'],
  ] as const;
  const used = $derived(aimsOf(app.live.document).length);
</script>

<AlonePage title="Tonight's room" heading="Tonight's room" beside={{ href: '/aims', text: 'Aims' }}>
  <div class="steps">
    {#if step === 'choose'}
      <p>The programming stays as it is. Choose where it plays, and every head is worked out anew.</p>
      <ul aria-label="Rooms">
        <li class="here">
          <span
            ><b>{app.rig.room.name}</b> {app.rig.room.widthM} × {app.rig.room.depthM} × {app.rig.room.heightM} m</span
          >
          <span class="quiet">you are here</span>
        </li>
        {#each rooms.filter((r) => r.kept) as room (room.id)}
          {@const m = room.kept!.measures}
          <li>
            <span><b>{room.name}</b> {m.widthM} × {m.depthM} × {m.heightM} m</span>
            <Button onclick={() => go(room.id, room.name)}>Go there</Button>
            <Button
              kind="bare"
              onclick={() => app.live.edit(`Forget ${room.name}`, removalOf(app.live.document, [room.id]))}
              >Forget it</Button
            >
          </li>
        {/each}
      </ul>
      <Button kind="main" onclick={measure}>Another room</Button>
      {#if used > 0}<Button onclick={() => (step = 'aims')}>Go through the aims</Button>{/if}
    {:else if step === 'measure'}
      <NameField value={name} save={(text) => (name = text)} />
      <Beside columns={3}>
        {#each SIDES as [side, label] (side)}
          <Field
            {label}
            numeric
            suffix={LENGTH_UNIT[lengths]}
            value={lengthNumber(size[side], lengths)}
            save={(text) => resize(side, text)}
          />
        {/each}
      </Beside>
      <p class="quiet">Drag booth, stands and the corners of the floor to where they are; arrow keys move them too.</p>
      <RoomPlan
        widthM={size.widthM}
        depthM={size.depthM}
        {floor}
        items={carriedAlong.map((t) => ({
          key: t.id,
          name: t.name,
          x: places.get(t.id)?.x ?? 0,
          y: places.get(t.id)?.y ?? 0,
          w: t.size.widthM,
          d: t.size.depthM,
          round: t.shape === 'stand',
        }))}
        move={(id, x, y) => (places = new Map(places).set(id as ThingId, { x, y }))}
        stretch={(next) => floor && (floor = { ...floor, ...next })}
      />
      <div class="row">
        <Button onclick={() => (step = 'choose')}>Back</Button>
        <Button kind="main" onclick={setIn}>Set the rig in</Button>
      </div>
    {:else}
      <h2>{app.rig.room.name}</h2>
      {#each notes as note, i (i)}<p class="look">{note}</p>{/each}
      {#if byAim.length > 0}
        <details>
          <summary class="wrong">{byAim.length} of {used} aims are out of reach for some heads</summary>
          <ul>
            {#each byAim as { id, name: called, heads } (id)}
              <li>{called}: {heads.slice(0, 6).join(', ')}{heads.length > 6 ? ' …' : ''}</li>
            {/each}
          </ul>
        </details>
      {:else}<p>Every head reaches every aim.</p>{/if}
      <CorrectAims />
      <div class="row"><Button onclick={() => (step = 'choose')}>Rooms</Button></div>
    {/if}
  </div></AlonePage
>

<style>
  .steps {
    display: grid;
    gap: 14px;
    align-content: start;
    padding-top: 14px;
  }
  h2 {
    font-size: 17px;
    margin: 0;
  }
  p {
    margin: 0;
  }
  ul {
    display: grid;
    gap: 6px;
    margin: 0;
    padding: 0;
    list-style: none;
  }
  .steps > ul li {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
    min-height: 48px;
    padding: 6px 12px;
    border: 1px solid var(--line);
    border-radius: var(--radius);
  }
  .steps > ul li span:first-child {
    flex: 1;
  }
  .here {
    border-color: var(--amber);
  }
  .row {
    display: flex;
    gap: 10px;
    justify-content: space-between;
  }
  .wrong {
    color: var(--wrong);
  }
  .look {
    color: var(--look);
  }
</style>

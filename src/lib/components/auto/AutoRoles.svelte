<script lang="ts">
  import type { GroupId } from '$core/ids.ts';
  import { ROLES, ROLE_WORDS, type Role } from '$core/records/variant.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';

  /** Who does what in light that runs by itself: as it is guessed, and as groups say. */
  const app = getApp();
  const { auto: desk, rig } = app;
  const WHAT: Readonly<Record<Role, string>> = {
    wash: 'the ground of colour',
    wash2: 'another colour against it',
    beams: 'heads that move by phrases',
    effects: 'derbies, lasers and the like, by the mood',
    pixels: 'pictures that move over cells',
    whites: 'hits, seldom',
    house: 'never touched',
  };
  const rows = $derived(ROLES.map((role) => ({ role, units: desk.guesses.filter((guess) => guess.role === role) })));
</script>

<section>
  <h3>The rig</h3>
  <table>
    <thead><tr><th>Role</th><th>Does</th><th class="num">Units</th><th>Which, and why</th></tr></thead>
    <tbody>
      {#each rows as { role, units } (role)}
        <tr class:none={units.length === 0}>
          <td><b>{ROLE_WORDS[role]}</b></td>
          <td class="quiet">{WHAT[role]}</td>
          <td class="num">{units.length}</td>
          <td>
            {#each units.slice(0, 4) as { id, why }, i (id)}{i > 0 ? ', ' : ''}{rig.lit(id)?.name ?? id}
              <span class="quiet">({why})</span>{/each}<span class="quiet"
              >{units.length > 4 ? ` and ${units.length - 4} more` : ''}</span
            >
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</section>
<section>
  <h3>Groups say otherwise</h3>
  <p class="quiet">What a group says goes for all its units; of several groups the first by number.</p>
  <div class="grid">
    {#each rig.groups as group (group.id)}
      <label class:own={group.role !== null}>
        <span>{group.name} <span class="quiet">{plural(rig.membersOf(group.id).length, 'unit')}</span></span>
        <select
          aria-label="Role of {group.name}"
          value={group.role ?? ''}
          onchange={(e) => desk.setRole(group.id as GroupId, (e.currentTarget.value || null) as Role | null)}
        >
          <option value="">as guessed</option>
          {#each ROLES as role (role)}<option value={role}>{ROLE_WORDS[role]}</option>{/each}
        </select>
      </label>
    {:else}<p class="quiet">No groups yet: make one of a selection with the keys under every page.</p>{/each}
  </div>
</section>

<style>
  section {
    display: grid;
    gap: 8px;
    padding: 8px 0 14px;
  }
  p {
    margin: 0;
  }
  table {
    border-collapse: collapse;
    max-width: 1000px;
  }
  th,
  td {
    padding: 5px 12px 5px 0;
    text-align: left;
    vertical-align: top;
    border-bottom: 1px solid var(--line);
  }
  th {
    color: var(--quiet);
    font-weight: 500;
  }
  .none td {
    opacity: 0.5;
  }
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
    gap: 4px 18px;
    max-width: 900px;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
  }
  .own {
    color: var(--amber);
  }
  select {
    min-height: 32px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    color: var(--text);
  }
</style>

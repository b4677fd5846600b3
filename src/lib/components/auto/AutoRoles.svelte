<script lang="ts">
  import { ROLES, ROLE_WORDS, type Role } from '$core/records/variant.ts';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { plural } from '$lib/state/words.ts';
  import ChoiceRows from './ChoiceRows.svelte';

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
  const OPTIONS = [['', 'as guessed'], ...ROLES.map((role) => [role, ROLE_WORDS[role]] as const)] as const;
  const groups = $derived(
    rig.groups.map(({ id, name, role }) => ({
      id,
      name,
      what: plural(rig.membersOf(id).length, 'unit'),
      value: role ?? '',
    })),
  );
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
  {#if rig.groups.length === 0}
    <p class="quiet">No groups yet: make one of a selection with the keys under every page.</p>
  {/if}
  <ChoiceRows
    rows={groups}
    options={OPTIONS}
    label="Role of"
    choose={(id, role) => desk.setRole(id, (role || null) as Role | null)}
  />
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
</style>

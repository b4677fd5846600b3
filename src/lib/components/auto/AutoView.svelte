<script lang="ts">
  import Tabs from '$lib/components/Tabs.svelte';
  import AutoNow from './AutoNow.svelte';
  import AutoPlan from './AutoPlan.svelte';
  import AutoRoles from './AutoRoles.svelte';
  import AutoTable from './AutoTable.svelte';

  /** Light that runs by itself: what it does now, what it will do to a song, what it may play, and who does what. */
  let view = $state<'now' | 'plan' | 'may' | 'who'>('now');
</script>

<div class="auto">
  <Tabs
    label="Of Auto"
    tabs={[
      ['now', 'Now'],
      ['plan', 'Plan of a song'],
      ['may', 'What may play'],
      ['who', 'Who does what'],
    ]}
    value={view}
    choose={(v) => (view = v)}
  />
  <div class="body">
    {#if view === 'now'}<AutoNow />
    {:else if view === 'plan'}<AutoPlan />
    {:else if view === 'may'}<AutoTable />
    {:else}<AutoRoles />{/if}
  </div>
</div>

<style>
  .auto {
    flex: 1;
    min-height: 0;
    display: flex;
    flex-direction: column;
    padding-left: 8px;
  }
  .body {
    flex: 1;
    min-height: 0;
    overflow: auto;
    padding: 10px 12px 24px;
  }
</style>

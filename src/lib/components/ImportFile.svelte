<script lang="ts">
  import Upload from '@lucide/svelte/icons/upload';

  /** Takes a show archive from this computer; the same file can be chosen twice in a row. */
  let { take, busy = false }: { take: (file: File) => void; busy?: boolean } = $props();
</script>

<label class:busy>
  <Upload size={16} aria-hidden="true" /> Import a .kite file
  <input
    type="file"
    accept=".kite,application/zip"
    class="visually-hidden"
    disabled={busy}
    onchange={(e) => {
      const file = e.currentTarget.files?.[0];
      e.currentTarget.value = '';
      if (file) take(file);
    }}
  />
</label>

<style>
  label {
    display: inline-flex;
    align-items: center;
    gap: 8px;
    min-height: 34px;
    padding: 4px 12px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    cursor: pointer;
  }
  label:focus-within {
    outline: 2px solid var(--amber);
  }
  .busy {
    opacity: 0.5;
  }
</style>

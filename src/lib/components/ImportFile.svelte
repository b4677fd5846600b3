<script lang="ts">
  import Upload from '@lucide/svelte/icons/upload';

  /** Takes a file from this computer; the same file can be chosen twice in a row. */
  interface Props {
    take: (file: File) => void;
    busy?: boolean;
    text?: string;
    accept?: string;
  }
  let { take, busy = false, text = 'Import a .kite file', accept = '.kite,application/zip' }: Props = $props();
</script>

<label class:busy>
  <Upload size={16} aria-hidden="true" />
  {text}
  <input
    type="file"
    {accept}
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

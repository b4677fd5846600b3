<script lang="ts">
  import type { Component } from 'svelte';
  import Upload from '@lucide/svelte/icons/upload';

  /** Takes a file (or several, or all of a folder) from this computer; the same can be chosen twice in a row. */
  interface Props {
    take?: (file: File) => void;
    takeAll?: (files: File[]) => void;
    folder?: boolean;
    icon?: Component<{ size?: number; 'aria-hidden'?: 'true' }>;
    busy?: boolean;
    text?: string;
    accept?: string;
  }
  let {
    take,
    takeAll,
    folder = false,
    icon: Icon = Upload,
    busy = false,
    text = 'Import a .kite file',
    accept = '.kite,application/zip',
  }: Props = $props();
</script>

<label class:busy>
  <Icon size={16} aria-hidden="true" />
  {text}
  <input
    type="file"
    accept={folder ? undefined : accept}
    multiple={takeAll !== undefined}
    webkitdirectory={folder}
    class="visually-hidden"
    disabled={busy}
    onchange={(e) => {
      const files = [...(e.currentTarget.files ?? [])];
      e.currentTarget.value = '';
      if (files[0]) take?.(files[0]);
      if (files.length > 0) takeAll?.(files);
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

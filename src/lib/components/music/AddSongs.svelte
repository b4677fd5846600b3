<script lang="ts">
  import { getApp } from '$lib/state/app.svelte.ts';
  import FolderPlus from '@lucide/svelte/icons/folder-plus';
  import Plus from '@lucide/svelte/icons/plus';

  /** Songs from this computer: files, or a folder with all in it. */
  const app = getApp();
  const KINDS = 'audio/*,.wav,.aif,.aiff,.mp3,.flac,.ogg,.opus,.m4a';
  function take(input: HTMLInputElement, folder: boolean): void {
    const files = [...(input.files ?? [])];
    input.value = '';
    // What else lies in a folder is not meant.
    app.songsIn.take(
      folder ? files.filter((f) => f.type.startsWith('audio/') || /\.(aiff?|flac|opus|ogg)$/i.test(f.name)) : files,
    );
  }
</script>

<label>
  <Plus size={16} aria-hidden="true" /> Add songs
  <input class="visually-hidden" type="file" multiple accept={KINDS} onchange={(e) => take(e.currentTarget, false)} />
</label>
<label title="All songs of a folder">
  <FolderPlus size={16} aria-hidden="true" /> Folder
  <input class="visually-hidden" type="file" multiple webkitdirectory onchange={(e) => take(e.currentTarget, true)} />
</label>

<style>
  label {
    display: inline-flex;
    align-items: center;
    gap: 6px;
    min-height: 32px;
    padding: 4px 12px;
    border: 1px solid var(--line-strong);
    border-radius: var(--radius);
    background: var(--raised);
    cursor: pointer;
    white-space: nowrap;
  }
  label:hover {
    background: var(--hover);
  }
  label:focus-within {
    outline: 2px solid var(--amber);
  }
</style>

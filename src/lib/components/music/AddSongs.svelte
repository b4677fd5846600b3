<script lang="ts">
  import ImportFile from '$lib/components/ImportFile.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { isSong } from '$lib/state/music/songs-in.svelte.ts';
  import FolderPlus from '@lucide/svelte/icons/folder-plus';
  import Plus from '@lucide/svelte/icons/plus';

  /** Songs from this computer: files, or a folder with all songs in it. */
  const app = getApp();
  const KINDS = 'audio/*,.wav,.aif,.aiff,.mp3,.flac,.ogg,.opus,.m4a';
</script>

<ImportFile text="Add songs" icon={Plus} accept={KINDS} takeAll={(files) => app.songsIn.take(files)} />
<ImportFile text="Folder" icon={FolderPlus} folder takeAll={(files) => app.songsIn.take(files.filter(isSong))} />

<script lang="ts">
  import Button from '$lib/components/Button.svelte';
  import ImportFile from '$lib/components/ImportFile.svelte';
  import { getApp } from '$lib/state/app.svelte.ts';
  import { isSong } from '$lib/state/music/songs-in.svelte.ts';
  import { plainTime } from '$lib/state/music/plain-time.ts';
  import { setAddress } from '$lib/state/opened.svelte.ts';
  import Clock from '@lucide/svelte/icons/clock';
  import FolderPlus from '@lucide/svelte/icons/folder-plus';
  import Plus from '@lucide/svelte/icons/plus';

  /** Songs from this computer: files, or a folder with all songs in it. */
  const app = getApp();
  function plain(): void {
    const song = plainTime(app);
    app.live.edit('Add plain time', { put: [song], remove: [] });
    setAddress({ song: song.id, view: null });
  }
  const KINDS = 'audio/*,.wav,.aif,.aiff,.mp3,.flac,.ogg,.opus,.m4a';
</script>

<ImportFile text="Add songs" icon={Plus} accept={KINDS} takeAll={(files) => app.songsIn.take(files)} />
<ImportFile text="Folder" icon={FolderPlus} folder takeAll={(files) => app.songsIn.take(files.filter(isSong))} />
<Button title="Time without sound, with even beats: for light that needs no music" onclick={plain}
  ><Clock size={16} /> Plain time</Button
>

<script lang="ts">
  import Field from './Field.svelte';

  /** The name of a record: 1 to 100 characters. */
  let { value, save }: { value: string; save: (name: string) => void } = $props();
</script>

<Field
  label="Name"
  {value}
  save={(text) => {
    if (text.trim() === '' || text.length > 100) return 'Give a name of 1 to 100 characters.';
    save(text.trim());
    return null;
  }}
/>

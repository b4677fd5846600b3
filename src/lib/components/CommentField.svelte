<script lang="ts">
  import Field from './Field.svelte';

  /** Free words about a record: up to 4,000 characters. */
  let { value, save }: { value: string; save: (text: string) => void } = $props();
</script>

<Field
  label="Comments"
  multiline
  {value}
  save={(text) => {
    if (text.length > 4000) return 'At most 4000 characters.';
    save(text);
    return null;
  }}
/>

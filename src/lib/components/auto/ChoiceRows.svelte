<script lang="ts" generics="Id extends string">
  /** Names in columns, each with a choice; those that have one stand out. */
  interface Props {
    /** `value`: what is chosen, empty for none. */
    rows: readonly { readonly id: Id; readonly name: string; readonly what: string; readonly value: string }[];
    options: readonly (readonly [value: string, text: string])[];
    /** What a choice is for, before the name. */
    label: string;
    choose: (id: Id, value: string) => void;
  }
  let { rows, options, label, choose }: Props = $props();
</script>

<div class="grid">
  {#each rows as { id, name, what, value } (id)}
    <label class:own={value !== ''}>
      <span>{name} <span class="quiet">{what}</span></span>
      <select aria-label="{label} {name}" {value} onchange={(e) => choose(id, e.currentTarget.value)}>
        {#each options as [key, text] (key)}<option value={key}>{text}</option>{/each}
      </select>
    </label>
  {/each}
</div>

<style>
  .grid {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
    gap: 4px 18px;
    max-width: 900px;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
  }
  .own {
    color: var(--amber);
  }
</style>

<script lang="ts" generics="T extends string">
  /** Tabs in a row; the arrow keys go from one to the next. */
  interface Props {
    label: string;
    tabs: readonly (readonly [key: T, text: string])[];
    value: T;
    choose: (key: T) => void;
  }
  let { label, tabs, value, choose }: Props = $props();
  function keys(event: KeyboardEvent): void {
    const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (step === 0) return;
    event.preventDefault();
    const next = (tabs.findIndex(([key]) => key === value) + step + tabs.length) % tabs.length;
    choose(tabs[next]![0]);
    (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role=tab]')[next]?.focus();
  }
</script>

<div role="tablist" aria-label={label} tabindex="-1" onkeydown={keys}>
  {#each tabs as [key, text] (key)}
    <button
      type="button"
      role="tab"
      aria-selected={key === value}
      tabindex={key === value ? 0 : -1}
      onclick={() => choose(key)}>{text}</button
    >
  {/each}
</div>

<style>
  div {
    display: flex;
    flex-wrap: wrap;
    min-width: 0;
    outline: none;
  }
  button {
    border: 0;
    background: none;
    padding: 5px 12px;
    color: var(--quiet);
    border-bottom: 2px solid transparent;
    white-space: nowrap;
  }
  [aria-selected='true'] {
    color: var(--text);
    border-bottom-color: var(--amber);
  }
</style>

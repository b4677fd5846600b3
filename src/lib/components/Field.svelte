<script lang="ts">
  /**
   * A labelled field that saves when it is left or Enter is pressed. Escape puts the old text back. What is refused
   * stays in the field with the reason under it.
   */
  interface Props {
    label: string;
    value: string | number;
    /** Takes the text; returns what is wrong with it, or null when it was taken. */
    save: (text: string) => string | null;
    suffix?: string;
    numeric?: boolean;
    mixed?: boolean;
    multiline?: boolean;
    placeholder?: string;
    hideLabel?: boolean;
  }
  let {
    label,
    value,
    save,
    suffix,
    numeric = false,
    mixed = false,
    multiline = false,
    placeholder,
    hideLabel = false,
  }: Props = $props();
  const id = $props.id();
  const shown = $derived(mixed ? '' : String(value));
  let draft = $state<string | null>(null);
  let fault = $state<string | null>(null);

  function commit(): void {
    if (draft === null || draft === shown) return reset();
    fault = save(draft);
    if (fault === null) draft = null;
  }
  function reset(): void {
    draft = null;
    fault = null;
  }
  function key(event: KeyboardEvent): void {
    if (event.key === 'Enter' && !(multiline && !event.ctrlKey)) commit();
    else if (event.key === 'Escape') {
      reset();
      event.stopPropagation();
    }
  }
  const common = $derived({
    id,
    'aria-invalid': fault !== null,
    'aria-describedby': fault ? `${id}-fault` : undefined,
    placeholder: mixed ? 'mixed' : placeholder,
    onblur: commit,
    onkeydown: key,
  });
</script>

<div class="field">
  <label for={id} class:visually-hidden={hideLabel}>{label}</label>
  <span class="box" class:invalid={fault !== null}>
    {#if multiline}
      <textarea {...common} rows="3" value={draft ?? shown} oninput={(e) => (draft = e.currentTarget.value)}></textarea>
    {:else}
      <input
        {...common}
        class:num={numeric}
        inputmode={numeric ? 'decimal' : undefined}
        value={draft ?? shown}
        oninput={(e) => (draft = e.currentTarget.value)}
        onfocus={(e) => e.currentTarget.select()}
      />
    {/if}
    {#if suffix}<span class="suffix">{suffix}</span>{/if}
  </span>
  {#if fault}<p id="{id}-fault" class="fault" role="alert">▲ {fault}</p>{/if}
</div>

<style>
  .field {
    display: grid;
    gap: 3px;
    min-width: 0;
  }
  label {
    color: var(--quiet);
    font-size: 12.5px;
  }
  .box {
    display: flex;
    align-items: center;
    border: 1px solid var(--line);
    border-radius: var(--radius);
    background: var(--raised);
    min-width: 0;
  }
  .box:focus-within {
    border-color: var(--amber);
  }
  .invalid {
    border-color: var(--wrong);
  }
  input,
  textarea {
    flex: 1;
    min-width: 0;
    width: 100%;
    border: 0;
    background: transparent;
    padding: 6px 8px;
    border-radius: inherit;
    resize: vertical;
  }
  input.num {
    text-align: right;
  }
  input:focus-visible,
  textarea:focus-visible {
    outline: none;
  }
  .suffix {
    color: var(--quiet);
    font-weight: 350;
    padding-right: 8px;
    white-space: nowrap;
  }
  .fault {
    color: var(--wrong);
    font-size: 12.5px;
  }
</style>

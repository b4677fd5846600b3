<script lang="ts">
  import type { AimRecord } from '$core/records/index.ts';
  import AimPicture from './AimPicture.svelte';

  /** An aim to press: its picture and its name. */
  interface Props {
    aim: AimRecord;
    press: () => void;
    /** Whether it is the chosen one, where one of them is. */
    pressed?: boolean;
    title?: string;
    /** For a finger. */
    large?: boolean;
  }
  let { aim, press, pressed, title, large = false }: Props = $props();
</script>

<button type="button" class:large aria-pressed={pressed} {title} onclick={press}>
  <AimPicture {aim} />
  <span>{aim.name}</span>
</button>

<style>
  button {
    display: grid;
    justify-items: center;
    gap: 2px;
    min-height: 62px;
    padding: 5px 3px;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: var(--radius);
    font-size: 12px;
    line-height: 1.2;
    overflow-wrap: anywhere;
  }
  .large {
    min-height: 72px;
    padding: 6px 4px;
    font-size: 13px;
  }
  button:hover {
    background: var(--hover);
  }
  button[aria-pressed='true'] {
    border-color: var(--amber);
  }
</style>

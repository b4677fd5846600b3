<script lang="ts">
  /** A box to tick, with its words, large enough for a finger. */
  let { label, checked, change }: { label: string; checked: boolean; change: (checked: boolean) => void } = $props();
</script>

<label
  ><input type="checkbox" {checked} onchange={(e) => change(e.currentTarget.checked)} />
  {label}</label
>

<style>
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  input {
    width: 18px;
    height: 18px;
    flex: none;
  }
</style>

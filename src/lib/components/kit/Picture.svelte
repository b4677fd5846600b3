<script lang="ts">
  import { PICTURES } from '$core/profile/pictures.ts';

  /** What a wheel slot looks like: a colour, two halves of it, a gobo with light behind it, or an own picture. */
  interface Props {
    colour?: string | undefined;
    colour2?: string | undefined;
    picture?: string | undefined;
    own?: Readonly<Record<string, string>>;
    size?: number;
  }
  let { colour, colour2, picture, own = {}, size = 18 }: Props = $props();
  const image = $derived(picture?.startsWith('own:') ? own[picture.slice(4)] : undefined);
  const path = $derived(picture && !image ? PICTURES[picture] : undefined);
</script>

{#if image}
  <img src={image} alt="" width={size} height={size} />
{:else if path}
  <svg viewBox="0 0 24 24" width={size} height={size} aria-hidden="true">
    <circle cx="12" cy="12" r="11" fill="#0a0d13" stroke="#6b7a94" stroke-width="0.8" />
    <path d={path} fill={colour ?? '#fff4dd'} fill-rule="evenodd" />
  </svg>
{:else if colour}
  <i
    style:width="{size * 0.72}px"
    style:height="{size * 0.72}px"
    style:background={colour2 ? `linear-gradient(90deg, ${colour} 50%, ${colour2} 50%)` : colour}
  ></i>
{/if}

<style>
  img,
  svg,
  i {
    flex: none;
    display: inline-block;
    vertical-align: -3px;
  }
  img {
    border-radius: 50%;
    background: #0a0d13;
    object-fit: contain;
  }
  i {
    border-radius: 3px;
    border: 1px solid rgb(128 128 128 / 60%);
    vertical-align: -1px;
  }
</style>

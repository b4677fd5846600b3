import { freeKey } from '../profile/keys.ts';
import { TAG_SHAPES, type Tag } from '../records/show.ts';

/** Colours given to new tags, in turn, beside their shapes. */
const TAG_COLOURS = ['#ffb347', '#6cb8ff', '#8fd694', '#e58fd0', '#f3e28a', '#b39ddb', '#ff8f70', '#8fe0dc'];

/** A colour tag of that name beside those there are: it takes the next colour and shape. */
export function newTag(tags: readonly Tag[], name: string): Tag {
  const keys = tags.map((t) => t.key);
  return {
    key: freeKey(name, keys, 'tag'),
    name,
    colour: TAG_COLOURS[tags.length % TAG_COLOURS.length]!,
    shape: TAG_SHAPES[tags.length % TAG_SHAPES.length]!,
  };
}

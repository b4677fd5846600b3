import { fromHex, nearestColour, type LinearRgb } from '../colour/convert.ts';
import type { Channel, Range } from '../records/profile.ts';

/** A wheel of colours, by its attribute and what its slots say. */
export const isColourWheel = (attribute: string, channel: Channel | null): boolean =>
  /^Color\d+$/.test(attribute) && (channel?.ranges.some((r) => r.colour) ?? false);

/** The slot of a wheel whose colour is nearest (CIEDE2000); undefined where no slot has one. */
export function nearestSlot(channel: Channel, colour: LinearRgb): Range | undefined {
  const slots = channel.ranges.filter((r) => r.colour);
  return slots[
    nearestColour(
      colour,
      slots.map((r) => fromHex(r.colour!)),
    )
  ];
}

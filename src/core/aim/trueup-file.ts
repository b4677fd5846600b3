import { z } from 'zod';
import { FaultError, faultsFromZod } from '../faults.ts';
import { USUAL_PAN_DEG, USUAL_TILT_DEG } from '../plot/beam.ts';
import { placeInRoomSchema } from '../records/common.ts';
import { FULL_16 } from './axes.ts';
import { readingAt, type Reading } from './trueup.ts';

/** A head and its readings as JSON: what `kite aim trueup` takes. */

const degrees = z.number().min(-720, 'must be -720 to 720').max(720, 'must be -720 to 720');
const sent = z.int('must be a whole number').min(0, 'must be 0-65535').max(FULL_16, 'must be 0-65535');
const range = z.number().min(1, 'must be 1-3600').max(3600, 'must be 1-3600');
const trueUpFileSchema = z.strictObject({
  unit: z.strictObject({
    position: placeInRoomSchema,
    /** As it was thought to hang. */
    rotation: z.strictObject({ x: degrees, y: degrees, z: degrees }).default({ x: 0, y: 0, z: 0 }),
    panDeg: range.default(USUAL_PAN_DEG),
    tiltDeg: range.default(USUAL_TILT_DEG),
    joint: z.enum(['head', 'mirror']).default('head'),
  }),
  readings: z
    .array(
      z.union(
        [
          z.strictObject({ spot: placeInRoomSchema, panDmx: sent, tiltDmx: sent }),
          z.strictObject({ spot: placeInRoomSchema, pan: degrees, tilt: degrees }),
        ],
        'must have a spot, and panDmx and tiltDmx (0-65535) or pan and tilt (degrees from the middle)',
      ),
    )
    .max(100, 'at most 100 readings'),
});

type Given = z.infer<typeof trueUpFileSchema>;

/** Reads it; readings come in degrees from the middle of each range. Throws FaultError (NOT_JSON, BAD_VALUE). */
export function readTrueUpFile(text: string, path: string): { unit: Given['unit']; readings: Reading[] } {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (error) {
    throw new FaultError({
      code: 'NOT_JSON',
      path,
      message: (error as Error).message,
      received: text.slice(0, 60),
      remedy: 'Give a file of JSON; docs/cli.md has an example.',
    });
  }
  const parsed = trueUpFileSchema.safeParse(raw);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, raw, path));
  const { unit, readings } = parsed.data;
  return {
    unit,
    readings: readings.map((r) => ('pan' in r ? r : readingAt(r.spot, r.panDmx / FULL_16, r.tiltDmx / FULL_16, unit))),
  };
}

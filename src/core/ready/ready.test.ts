import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, drawing, showWith, units } from '../../../tests/support/rig.ts';
import { builtInProfiles } from '../profile/library.ts';
import { valueToFraction } from '../profile/layout.ts';
import { litOf } from '../patch/lit.ts';
import { makeReader, readCell } from '../patch/readout.ts';
import { make } from '../records/index.ts';
import { effectWords, PRESETS } from './presets.ts';
import { readyFor } from './ready.ts';

const one = (profileId: string, mode: string) =>
  showWith(...units({ slug: 'u', profile: profileId.slice('profile:'.length), mode, address: 1 }));

describe('ready controls', () => {
  test('every value that is offered can be sent by its channel, for the whole library', () => {
    for (const profile of builtInProfiles()) {
      const document = one(profile.id, profile.modes[0]!.key);
      const layout = litOf(document, 'unit:u')!.layout;
      for (const section of readyFor(document, ['unit:u']))
        for (const look of section.looks)
          for (const [key, value] of Object.entries(look.set['unit:u'] ?? {})) {
            const item = layout.programmable.find((p) => p.attribute === key);
            assert.ok(item, `${profile.model} has no ${key}`);
            assert.ok(typeof value === 'number' || !('palette' in value));
            assert.notEqual(
              valueToFraction(item.channel, value as never),
              null,
              `${profile.model} ${key} ${JSON.stringify(value)}`,
            );
          }
    }
  });
  test('"full" really gives light, whatever shutters are in the way', () => {
    for (const profile of builtInProfiles()) {
      const document = one(profile.id, profile.modes[0]!.key);
      const full = readyFor(document, ['unit:u'])
        .find((s) => s.key === 'level')
        ?.looks.find((l) => l.name === 'Full');
      if (!full?.set['unit:u']?.['Dimmer']) continue;
      const { rig, at } = drawing(document, after(document, [0, { do: 'hand', set: full.set }]));
      const bytes = at(100);
      const frames = new Map(
        Array.from(rig.arrays.universes, (u, i) => [u as number, bytes.subarray(i * 512, i * 512 + 512)]),
      );
      const unit = document.get('unit:u')!;
      assert.ok(unit.kind === 'unit');
      const reader = makeReader(document, unit);
      const light = reader.cells.map((_, i) => {
        const { r, g, b } = readCell(reader, i, frames, { r: 0, g: 0, b: 0, strobing: false });
        return r + g + b;
      });
      assert.ok(Math.max(...light) > 0.5, `${profile.model}: ${light.join()}`);
    }
  });
  test('of several profiles each does what it can, and nobody more', () => {
    const document = showWith(
      ...units(
        { slug: 'dim', profile: 'generic-dimmer', mode: '1ch', address: 1 },
        { slug: 'rgb', profile: 'fernlight-plumlet', mode: '3ch', address: 2 },
      ),
    );
    const colour = readyFor(document, ['unit:dim', 'unit:rgb']).find((s) => s.key === 'colour')!;
    assert.deepEqual(Object.keys(colour.looks[0]!.set), ['unit:rgb']);
    assert.ok(!readyFor(document, ['unit:dim']).some((s) => s.key === 'moves' || s.key === 'pixels'));
  });
  test('effects of this show are offered to whoever can show a part of them', () => {
    const effect = (slug: string, number: number, parts: object[]) =>
      make('effect', { id: `effect:${slug}`, number, name: slug, on: [], parts } as never);
    const document = showWith(
      ...units(
        { slug: 'dim', profile: 'generic-dimmer', mode: '1ch', address: 1 },
        { slug: 'spot', profile: 'quillon-heron', mode: '16ch', address: 10 },
      ),
      effect('round', 2, [{ does: 'aim' }]),
      effect('breath', 1, [{ does: 'aim' }, { does: 'level', wave: 'breath' }]),
      effect('film', 3, [{ does: 'pixels' }]),
    );
    const own = (id: 'unit:dim' | 'unit:spot'): string[] | undefined =>
      readyFor(document, [id])
        .find((s) => s.key === 'own')
        ?.presets.map((p) => p.name);
    assert.deepEqual(own('unit:dim'), ['breath']);
    assert.deepEqual(own('unit:spot'), ['breath', 'round']);
    assert.deepEqual(readyFor(document, ['unit:spot']).at(-1)!.presets[0]!.spec.parts[1]!.does, 'level');
  });
  test('nobody chosen: nothing offered', () => assert.deepEqual(readyFor(showWith(), []), []));
});

describe('ready-made effects', () => {
  test('have keys of their own and are called by their names', () => {
    assert.equal(new Set(PRESETS.map((p) => p.key)).size, PRESETS.length);
    for (const preset of PRESETS) assert.equal(effectWords(preset.spec), preset.name);
  });
  test('those of levels, colours and pixels light a strip, and move', () => {
    const document = showWith(...units({ slug: 'v', profile: 'fernlight-plumlet', mode: '3ch', address: 400 }));
    for (const preset of PRESETS.filter((p) => p.family === 'level' || p.family === 'colour')) {
      const spec = { ...preset.spec, light: 1 };
      const { at } = drawing(document, after(document, [0, { do: 'handEffect', spec, on: ['unit:v'] }]));
      const seen = new Set<string>();
      for (let ms = 0; ms < 20_000; ms += 170) seen.add([...at(ms).subarray(399, 402)].join());
      assert.ok(
        [...seen].some((s) => s !== '0,0,0'),
        `${preset.name} stays dark`,
      );
      assert.ok(seen.size > 1, `${preset.name} stands still`);
    }
  });
});

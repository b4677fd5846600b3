import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { footprintOf } from './layout.ts';
import { builtInProfiles } from './library.ts';
import { beginsNearly } from './word-index.ts';
import { indexProfiles, parseProfileQuery, searchProfiles, searchWords } from './search.ts';

const profiles = builtInProfiles();
const index = indexProfiles(profiles, (kind) => (kind === 'head' ? 'moving head' : kind));
const models = (query: string): string[] => searchProfiles(index, query).map((p) => p.model);

describe('queries', () => {
  test('are taken apart into channel counts and words', () => {
    assert.deepEqual(parseProfileQuery('14 ch spot, Zoom'), { words: ['spot', 'zoom'], footprints: [14] });
    assert.deepEqual(parseProfileQuery('8ch 16 channels'), { words: [], footprints: [8, 16] });
    assert.deepEqual(parseProfileQuery('Flitter 30'), { words: ['flitter', '30'], footprints: [] });
    assert.deepEqual(parseProfileQuery('  '), { words: [], footprints: [] });
  });
  test('do without accents and capitals', () =>
    assert.deepEqual(searchWords('Élan-2 «Größe»'), ['elan', '2', 'große']));
});

describe('finding', () => {
  test('needs every word, and the channel count of some mode', () => {
    assert.deepEqual(models('7 ch par plumlet rgb'), ['Plumlet RGB']);
    assert.deepEqual(models('16ch zoom spot 150'), ['Heron 150 Spot']);
    assert.deepEqual(models('333 ch'), []);
    assert.deepEqual(models('par kettle'), []);
    assert.equal(models('').length, profiles.length);
  });
  test('by the beginning of words, as it is typed', () => {
    assert.ok(models('her').includes('Heron 150 Spot'));
    assert.deepEqual(models('ero'), []);
    assert.ok(models('moving').length > 0);
  });
  test('what the model is called comes before what it can do', () => {
    const dimmers = models('dimmer');
    assert.equal(dimmers[0], 'Dimmer');
    assert.ok(dimmers.length > 1);
    assert.ok(models('marrow').every((m) => profiles.find((p) => p.model === m)!.maker.includes('Marrow')));
  });
  test('agrees with looking at every profile one by one', () => {
    const anyWord = fc.constantFrom('gobo', 'red', 'fern', 'par', 'mo', 'strobe', 'level', 'x');
    const anyCount = fc.option(fc.constantFrom(1, 3, 4, 7, 16, 50), { nil: null });
    fc.assert(
      fc.property(fc.array(anyWord, { maxLength: 3 }), anyCount, (words, count) => {
        const query = `${count === null ? '' : `${count} ch `}${words.join(' ')}`;
        const alone = profiles.filter((p) => {
          const one = indexProfiles([p], (kind) => (kind === 'head' ? 'moving head' : kind));
          return (
            (count === null || p.modes.some((m) => footprintOf(m) === count)) &&
            words.every((w) => one.index.words.some((have) => have.startsWith(w)))
          );
        });
        assert.deepEqual(new Set(models(query)), new Set(alone.map((p) => p.model)));
      }),
    );
  });
  const finds: [query: string, model: string][] = [
    ['4 circuits', 'Quayside Pack 4'],
    ['4 circuit', 'Quayside Pack 4'],
    ['spot 16', 'Heron 150 Spot'],
    ['movinghead', 'Heron 150 Spot'],
    ['moving heads', 'Heron 150 Spot'],
    ['dimer', 'Dimmer'],
    ['dimemr', 'Dimmer'],
    ['dimmmer', 'Dimmer'],
    ['smoke machine', 'Weir Fog 1000'],
    ['strip', 'Reedline strip'],
    ['led tape', 'Reedline strip'],
    ['170 pixels', 'Reedline strip'],
    ['blacklight', 'Nightflower UV'],
    ['reed line', 'Reedline strip'],
  ];
  for (const [query, model] of finds)
    test(`“${query}”`, () =>
      assert.ok(
        models(query).some((m) => m.startsWith(model)),
        models(query).join(),
      ));
  test('“par uv” is a par with ultraviolet', () => {
    const found = searchProfiles(index, 'par uv');
    assert.ok(found.length > 0);
    for (const p of found) assert.ok(p.channels.some((c) => c.attribute === 'ColorAdd_UV') || /uv/i.test(p.model));
  });
  test('one typing error, not two, and never for what something begins with', () => {
    for (const [typed, ok] of [
      ['dimmer', true],
      ['dimer', true],
      ['dmimer', true],
      ['dixmer', true],
      ['imer', false],
      ['dixxer', false],
    ] as const)
      assert.equal(beginsNearly('dimmer', typed), ok, typed);
    assert.deepEqual(models('strobx').length > 0, true);
    assert.ok(models('strobe').every((m) => m !== ''));
  });
  test('takes any text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (text) =>
        assert.ok(models(text).length <= profiles.length),
      ),
    );
  });
});

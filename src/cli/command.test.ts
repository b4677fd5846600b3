import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { FaultError } from '../core/faults.ts';
import { numberOption, oneWord, readArguments } from './command.ts';
import { ADDRESS } from './address.ts';
import { GROUPS } from './groups.ts';

const code = (job: () => unknown): string => {
  try {
    job();
    return 'no fault';
  } catch (error) {
    assert.ok(error instanceof FaultError);
    assert.ok(error.faults[0]!.remedy.length > 0);
    return error.faults[0]!.code;
  }
};

describe('command lines', () => {
  test('words and options, with = or a space', () => {
    assert.deepEqual(readArguments(['file', '--at=3', '--play', 'A scene'], ['at', 'play']), {
      words: ['file'],
      options: { at: '3', play: 'A scene' },
    });
  });
  test('flags take no value', () => {
    assert.deepEqual(readArguments(['--dry-run', 'file'], ['dry-run!', 'at']), {
      words: ['file'],
      options: { 'dry-run': 'yes' },
    });
  });
  test('say what is wrong', () => {
    assert.equal(
      code(() => readArguments(['--what', '1'], ['at'])),
      'UNKNOWN_OPTION',
    );
    assert.equal(
      code(() => readArguments(['--at'], ['at'])),
      'OPTION_EMPTY',
    );
    const args = (text: string) => readArguments([`--at=${text}`], ['at']);
    for (const text of ['', 'x', '-1', '11', 'NaN', 'Infinity'])
      assert.equal(
        code(() => numberOption(args(text), 'at', 0, 10)),
        'OPTION_RANGE',
        text,
      );
    assert.equal(
      code(() => numberOption(readArguments([], []), 'at', 0, 10)),
      'OPTION_MISSING',
    );
    assert.equal(numberOption(readArguments([], []), 'at', 0, 10, 7), 7);
    assert.equal(
      code(() => oneWord(readArguments([], []), 'FILE', 'x FILE')),
      'ARGUMENT_MISSING',
    );
    assert.equal(
      code(() => oneWord(readArguments(['a', 'b'], []), 'FILE', 'x FILE')),
      'ARGUMENT_EXTRA',
    );
  });
});

describe('address', () => {
  const run = (...words: string[]) => ADDRESS['address']!.command.run({ words, options: {} }) as { output: unknown };
  test('answers as documented, in every notation', () => {
    const expected = { universe: 3, address: 145, absolute512: 1169, absolute510: 1165, switches: [1, 5, 8] };
    for (const words of [['3.145'], ['3/145'], ['3:145'], ['1169'], ['3', '.', '145']])
      assert.deepEqual(run(...words).output, expected);
  });
  test('511 and 512 have no absolute channel in universes of 510', () => {
    assert.deepEqual((run('1.512').output as { absolute510: unknown }).absolute510, null);
  });
  test('refuses what is none', () => {
    assert.equal(
      code(() => run()),
      'ARGUMENT_MISSING',
    );
    assert.equal(
      code(() => run('0.1')),
      'UNIVERSE_RANGE',
    );
    const slots = (text: string) => () => ADDRESS['address']!.command.run({ words: ['1'], options: { slots: text } });
    assert.equal(code(slots('500')), 'OPTION_RANGE');
  });
});

test('every command stands in the group of its first word, and no word in two', async () => {
  const first = GROUPS.flatMap((group) => [...group.first]);
  assert.equal(new Set(first).size, first.length);
  for (const group of GROUPS)
    for (const name of Object.keys(await group.load())) assert.ok(group.first.includes(name.split(' ')[0]!), name);
});

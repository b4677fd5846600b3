import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { rangeSchema, type Range } from '../records/profile.ts';
import { isAttribute } from '../attributes.ts';
import { guessAttribute, guessColours, guessLight, guessPhysical, guessRange } from './guess.ts';
import { parseRanges } from './paste.ts';
import { addRange, equalRanges, freeName, gapsOf, moveEdge, overlapsOf, sortedRanges, type Edited } from './ranges.ts';

const r = (from: number, to: number, name = `${from}`): Range => ({ from, to, name });
const text = (ranges: readonly Range[]): string[] => ranges.map((x) => `${x.from}-${x.to} ${x.name}`);
const done = (edited: Edited): Range[] => {
  assert.ok('ranges' in edited, 'fault' in edited ? edited.fault.message : '');
  return edited.ranges;
};
const code = (edited: Edited): string => ('fault' in edited ? edited.fault.code : 'no fault');

describe('gaps and overlaps', () => {
  test('are found wherever they are', () => {
    assert.deepEqual(gapsOf([r(10, 20), r(30, 255)]), [
      { from: 0, to: 9 },
      { from: 21, to: 29 },
    ]);
    assert.deepEqual(gapsOf([]), [{ from: 0, to: 255 }]);
    assert.deepEqual(gapsOf([r(0, 255)]), []);
    assert.deepEqual(overlapsOf([r(0, 20), r(20, 30), r(31, 40), r(5, 6)]), [1, 2]);
  });
});

describe('moving an edge', () => {
  const three = [r(0, 9, 'A'), r(10, 19, 'B'), r(20, 29, 'C')];
  test('takes a neighbour that touched it along, both ways', () => {
    assert.deepEqual(text(done(moveEdge(three, 1, 'to', 24))), ['0-9 A', '10-24 B', '25-29 C']);
    assert.deepEqual(text(done(moveEdge(three, 1, 'to', 15))), ['0-9 A', '10-15 B', '16-29 C']);
    assert.deepEqual(text(done(moveEdge(three, 1, 'from', 5))), ['0-4 A', '5-19 B', '20-29 C']);
    assert.deepEqual(text(done(moveEdge(three, 0, 'from', 3))), ['3-9 A', '10-19 B', '20-29 C']);
  });
  test('leaves a neighbour beyond a gap alone until it is reached', () => {
    const gap = [r(0, 9, 'A'), r(20, 29, 'B')];
    assert.deepEqual(text(done(moveEdge(gap, 0, 'to', 12))), ['0-12 A', '20-29 B']);
    assert.deepEqual(text(done(moveEdge(gap, 0, 'to', 22))), ['0-22 A', '23-29 B']);
  });
  test('swallows nobody, never runs backwards, stays within 0-255', () => {
    assert.equal(code(moveEdge(three, 0, 'to', 19)), 'RANGE_SWALLOWED');
    assert.equal(code(moveEdge(three, 1, 'from', 20)), 'RANGE_BACKWARDS');
    assert.equal(code(moveEdge(three, 1, 'to', 256)), 'RANGE_VALUE');
    assert.equal(code(moveEdge(three, 1, 'to', 12.5)), 'RANGE_VALUE');
    assert.equal(code(moveEdge(three, 7, 'to', 5)), 'NO_SUCH_RANGE');
  });
  test('never makes ranges overlap that did not', () => {
    const anyRanges = fc.uniqueArray(fc.integer({ min: 0, max: 255 }), { minLength: 2, maxLength: 12 }).map((edges) => {
      const sorted = edges.sort((a, b) => a - b);
      const list: Range[] = [];
      for (let i = 0; i + 1 < sorted.length; i += 2) list.push(r(sorted[i]!, sorted[i + 1]!, `R${i}`));
      return list;
    });
    fc.assert(
      fc.property(
        anyRanges,
        fc.nat(11),
        fc.constantFrom('from', 'to'),
        fc.integer({ min: -5, max: 260 }),
        (ranges, i, edge, value) => {
          const edited = moveEdge(ranges, i, edge, value);
          if ('fault' in edited) return;
          assert.deepEqual(overlapsOf(edited.ranges), []);
          assert.equal(edited.ranges.length, ranges.length);
          for (const range of edited.ranges) assert.ok(range.from <= range.to);
        },
      ),
    );
  });
});

describe('adding a range', () => {
  test('fills the first gap, or halves the widest', () => {
    assert.deepEqual(text(addRange([r(0, 9)], 'New')!), ['0-9 0', '10-255 New']);
    assert.deepEqual(text(addRange([r(0, 255, 'All')], 'New')!), ['0-127 All', '128-255 New']);
    assert.deepEqual(addRange([], 'New'), [{ from: 0, to: 255, name: 'New' }]);
  });
  test('gives a name nobody has', () => {
    assert.equal(freeName([{ name: 'A' }, { name: 'A 2' }], 'A'), 'A 3');
  });
});

describe('equal ranges', () => {
  const wizard = { start: 0, width: 8, count: 4, pattern: 'Gobo #', firstNumber: 1 };
  test('stand in a row with running names', () => {
    assert.deepEqual(text(done(equalRanges(wizard))), ['0-7 Gobo 1', '8-15 Gobo 2', '16-23 Gobo 3', '24-31 Gobo 4']);
    assert.deepEqual(text(done(equalRanges({ ...wizard, start: 2, count: 2, pattern: 'Slot ##', firstNumber: 9 }))), [
      '2-9 Slot 09',
      '10-17 Slot 10',
    ]);
    assert.deepEqual(done(equalRanges({ ...wizard, pattern: 'Colour', count: 1 }))[0]!.name, 'Colour 1');
  });
  test('that do not fit say how many do', () => {
    const result = equalRanges({ ...wizard, count: 40 });
    assert.ok('fault' in result);
    assert.match(result.fault.remedy, /At most 32/);
    assert.equal(code(equalRanges({ ...wizard, start: 250, width: 100, count: 1 })), 'WIZARD_TOO_LONG');
    for (const over of [{ width: 0 }, { start: -1 }, { width: 1.5 }, { count: 0 }])
      assert.equal(code(equalRanges({ ...wizard, ...over })), 'WIZARD_VALUE');
  });
  test('never overlap and never leave 0-255', () => {
    const n = fc.integer({ min: 0, max: 60 });
    fc.assert(
      fc.property(n, n, n, (start, width, count) => {
        const result = equalRanges({ ...wizard, start, width, count });
        if ('fault' in result) return;
        assert.equal(result.ranges.length, count);
        assert.deepEqual(overlapsOf(result.ranges), []);
        assert.ok(result.ranges.at(-1)!.to <= 255);
      }),
    );
  });
});

describe('a table from a manual', () => {
  const lines: [line: string, expected: string][] = [
    ['0-15 White', '0-15 White'],
    ['000–015\tWhite', '0-15 White'],
    ['0 — 15: White', '0-15 White'],
    ['0 to 15 White', '0-15 White'],
    ['0..15 = White', '0-15 White'],
    ['0…15 White', '0-15 White'],
    ['0 ~ 15 White', '0-15 White'],
    ['White 0-15', '0-15 White'],
    ['White: (0-15)', '0-15 White'],
    ['8\t000-015\tWhite', '0-15 White'],
    ['CH 8 | 000-015 | White', '0-15 White'],
    ['00h-0Fh White', '0-15 White'],
    ['255 Full', '255-255 Full'],
    ['7: Gobo 3', '7-7 Gobo 3'],
    ['0-127 Strobe slow -> fast (1-20 Hz)', '0-127 Strobe slow -> fast (1-20 Hz)'],
    ['128-191 Forward, fast to slow', '128-191 Forward, fast to slow'],
    ['0% - 49% Low', '0-127 Low'],
    ['50-100% High', '128-255 High'],
    ['\u00a00\u00a0-\u00a09\u00a0Off', '0-9 Off'],
    ['  • 10-19 - Red  ', '10-19 Red'],
    ['0\t15\tWhite', '0-15 White'],
    ['0;15;White', '0-15 White'],
    ['0,15,White', '0-15 White'],
    ['"0","15","White"', '0-15 White'],
    ['0 | 15 | White', '0-15 White'],
    ['0 15 White', '0-15 White'],
    ['0\t-\t15\tWhite', '0-15 White'],
    ['White\t0\t15', '0-15 White'],
    ['White;0;15', '0-15 White'],
    ['White, 0, 15', '0-15 White'],
    ['White 0 15', '0-15 White'],
    ['00h\t0Fh\tWhite', '0-15 White'],
    ['0x00 - 0x0F White', '0-15 White'],
    ['0\t15\t3 facet prism', '0-15 3 facet prism'],
    ['0-15\t3 facet prism', '0-15 3 facet prism'],
    ['7 3-facet prism', '7-7 3-facet prism'],
    ['255 Strobe 1-20 Hz', '255-255 Strobe 1-20 Hz'],
    ['Strobe (1-20 Hz): 10-99', '10-99 Strobe (1-20 Hz)'],
    ['CH 8\t0\t15\tWhite', '0-15 White'],
    ['0 thru 15 White', '0-15 White'],
  ];
  for (const [line, expected] of lines)
    test(line, () => {
      const { ranges, faults } = parseRanges(line);
      assert.deepEqual(faults, []);
      assert.deepEqual(text(ranges), [expected]);
    });

  test('headings and empty lines are passed over, and told', () => {
    const { ranges, faults, passed } = parseRanges('Colour wheel\r\n\r\nDMX\tFunction\r\n0-9\tWhite\n10-19\tRed\n');
    assert.deepEqual(faults, []);
    assert.deepEqual(text(ranges), ['0-9 White', '10-19 Red']);
    assert.deepEqual(
      passed.map((p) => [p.line, p.text]),
      [
        [1, 'Colour wheel'],
        [3, 'DMX\tFunction'],
      ],
    );
  });
  test('a column that counts channels is known from the whole table', () => {
    const table = ['Ch\tFrom\tTo\tWhat', '8\t0\t9\tWhite', '8\t10\t19\tRed', '8\t20\t255\tTurning'].join('\n');
    const { ranges, faults } = parseRanges(table);
    assert.deepEqual([text(ranges), faults], [['0-9 White', '10-19 Red', '20-255 Turning'], []]);
    assert.deepEqual(text(parseRanges('0 9 3 facets\n10 19 5 facets').ranges), ['0-9 3 facets', '10-19 5 facets']);
    assert.deepEqual(text(parseRanges('8\t0\t9\tWhite\n\t10\t19\tRed').ranges), ['0-9 White', '10-19 Red']);
  });
  test('a name on the line below its values is theirs', () => {
    const { ranges, faults } = parseRanges('0-9\nWhite\n10-19\nRed');
    assert.deepEqual([text(ranges), faults], [['0-9 White', '10-19 Red'], []]);
  });
  test('what cannot be read is refused, never something else', () => {
    for (const line of ['White one 12 or so 3', 'Half 1-2 or 3-4 open', 'Gobo 12']) {
      const { ranges, faults } = parseRanges(`0-9 White\n${line}`);
      assert.deepEqual([text(ranges), faults.map((f) => [f.line, f.code])], [['0-9 White'], [[2, 'LINE_UNREADABLE']]]);
    }
  });
  test('columns in any order and with any separator give the same ranges', () => {
    const table = fc.uniqueArray(fc.integer({ min: 0, max: 255 }), { minLength: 2, maxLength: 20 }).map((edges) => {
      const sorted = edges.sort((a, b) => a - b);
      return sorted
        .slice(0, -1)
        .map((from, i) => r(from, Math.max(from, sorted[i + 1]! - 1), `Name ${'abc'[i % 3]}${i}x`));
    });
    const separator = fc.constantFrom('\t', ';', '|', '  ', ' | ', ' ; ');
    fc.assert(
      fc.property(table, separator, fc.boolean(), fc.constantFrom('', '7'), (ranges, between, nameLast, channel) => {
        const written = ranges.map(({ from, to, name }) =>
          nameLast
            ? [...(channel && ranges.length > 1 ? [channel] : []), from, to, name].join(between)
            : [name, from, to].join(between),
        );
        const { ranges: read, faults } = parseRanges(written.join('\n'));
        assert.deepEqual([text(read), faults], [text(ranges), []], written.join('\n'));
      }),
      { numRuns: 300 },
    );
  });
  test('what is wrong is told with its line, and the rest is kept', () => {
    const { ranges, faults } = parseRanges('0-9 White\n20-10 Red\n5-12 Blue\n10-300 Green\n20-29 Cyan');
    assert.deepEqual(text(ranges), ['0-9 White', '20-29 Cyan']);
    assert.deepEqual(
      faults.map((f) => [f.line, f.code]),
      [
        [2, 'RANGE_BACKWARDS'],
        [3, 'RANGE_OVERLAP'],
        [4, 'RANGE_VALUE'],
      ],
    );
    assert.match(faults[1]!.message, /overlaps 0-9 of line 1/);
  });
  test('the same name twice gets a number, no name gets one too', () => {
    assert.deepEqual(text(parseRanges('0-9 White\n10-19 White\n20-29').ranges), [
      '0-9 White',
      '10-19 White 2',
      '20-29 Range 3',
    ]);
  });
  test('colours, shutters and physical ends are taken from the words', () => {
    const [white, half, turn] = parseRanges('0-9 White\n10-19 Red + Blue\n20-255 Rainbow 1-30 rpm', 'Color1').ranges;
    assert.deepEqual([white!.colour, half!.colour, half!.colour2], ['#ffffff', '#f02020', '#2050f0']);
    assert.deepEqual([turn!.colour, turn!.physical], [undefined, { from: 1, to: 30, unit: 'rpm' }]);
    const shutter = parseRanges('0-9 Blackout\n10-199 Strobe 0,5..20 Hz\n200-255 Open', 'Shutter1').ranges;
    assert.deepEqual(
      shutter.map((x) => x.light),
      ['closed', 'strobe', 'open'],
    );
    assert.deepEqual(shutter[1]!.physical, { from: 0.5, to: 20, unit: 'hz' });
  });
  test('any text gives sound ranges or faults with a line, never an exception', () => {
    const anyText = fc.oneof(
      fc.string({ unit: 'binary', maxLength: 300 }),
      fc
        .array(
          fc.constantFrom('0', '15', '255', '300', '-', '–', '%', 'h', ' ', '\t', '\n', 'White', 'CH', ':', '1e9'),
          { maxLength: 60 },
        )
        .map((a) => a.join('')),
    );
    fc.assert(
      fc.property(anyText, (pasted) => {
        const { ranges, faults } = parseRanges(pasted, 'Color1');
        for (const range of ranges) assert.ok(rangeSchema.safeParse(range).success, JSON.stringify(range));
        assert.deepEqual(overlapsOf(ranges), []);
        assert.equal(new Set(ranges.map((x) => x.name)).size, ranges.length);
        for (const fault of faults) assert.ok(fault.line >= 1 && fault.remedy.length > 0);
      }),
      { numRuns: 400 },
    );
  });
});

describe('guesses', () => {
  test('of colours, also of two, and not of programs', () => {
    assert.equal(guessColours('Light blue')?.colour, '#70c0ff');
    assert.deepEqual(guessColours('White / Red'), { colour: '#ffffff', colour2: '#f02020' });
    assert.equal(guessColours('Blue chase'), null);
    assert.equal(guessColours('Gobo 4'), null);
  });
  test('of light and of physical ends', () => {
    assert.deepEqual(['No strobe', 'Strobe', 'Closed', 'Thing'].map(guessLight), [
      'open',
      'strobe',
      'closed',
      undefined,
    ]);
    assert.deepEqual(guessPhysical('2700 K to 6500 K'), { from: 2700, to: 6500, unit: 'kelvin' });
    assert.deepEqual(guessPhysical('0-540°'), { from: 0, to: 540, unit: 'deg' });
    assert.equal(guessPhysical('Slow to fast'), undefined);
  });
  test('of attributes are all names of GDTF, and the fuller words count first', () => {
    const names = [
      'Master dimmer',
      'Pan',
      'Pan and tilt speed',
      'Warm white',
      'White',
      'Colour wheel',
      'Gobo rotation',
      'Gobo wheel',
      'Strobe',
      'Fog',
      'UsbInterface',
    ];
    assert.deepEqual(names.map(guessAttribute), [
      'Dimmer',
      'Pan',
      'PanTiltSpeed',
      'ColorAdd_WW',
      'ColorAdd_W',
      'Color1',
      'Gobo1Pos',
      'Gobo1',
      'Shutter1',
      'Fog1',
      'NoFeature',
    ]);
    for (const name of names) assert.ok(isAttribute(guessAttribute(name)), name);
  });
  test('leave alone what is already said', () => {
    const range = { ...r(0, 9, 'Red'), colour: '#123456' };
    assert.deepEqual(guessRange(range, 'Color1'), range);
    assert.deepEqual(guessRange(r(0, 9, 'Red'), 'Gobo1'), r(0, 9, 'Red'));
  });
});

test('sorting keeps the list it was given', () => {
  const list = [r(5, 6), r(0, 1)];
  assert.deepEqual(text(sortedRanges(list)), ['0-1 0', '5-6 5']);
  assert.equal(list[0]!.from, 5);
});

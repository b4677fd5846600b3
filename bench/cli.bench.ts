import { execFileSync } from 'node:child_process';
import { quantileOf, report, timed } from './measure.ts';

/** A call of the headless command, beside a bare start of Node in the same seconds. */
const call = (...args: string[]) => execFileSync('./kite', args);
const bare = () => execFileSync(process.execPath, ['-e', '0']);
call('address', '1.1');
const calls: [name: string, run: () => unknown][] = [
  ['address', () => call('address', '3.145')],
  ['archive check', () => call('archive', 'check', 'tests/samples/show-version-5.kite')],
  [
    'render one frame',
    () => call('render', 'tests/samples/show-version-5.kite', '--play', 'Doors open', '--at', '1', '--hash'),
  ],
];
const node = timed(15, () => void bare());
report('a bare start of Node, median', quantileOf(node, 0.5), 'ms');
for (const [name, run] of calls)
  report(
    `kite ${name}, a call, median`,
    quantileOf(
      timed(15, () => void run()),
      0.5,
    ),
    'ms',
  );

import assert from 'node:assert/strict';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { after, describe, test } from 'node:test';
import { importFaults } from './imports.mjs';

const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-imports-'));
after(() => rmSync(folder, { recursive: true }));

let count = 0;
/** Faults of a tree of one file. */
function faultsOf(file: string, text: string): string[] {
  const src = path.join(folder, String(count++));
  mkdirSync(path.dirname(path.join(src, file)), { recursive: true });
  writeFileSync(path.join(src, file), text);
  return importFaults(src) as string[];
}

describe('the direction of imports', () => {
  const refused: [file: string, text: string][] = [
    ['core/a.ts', "import fs from 'node:fs';"],
    ['core/a.ts', "import { x } from '../db/shows.ts';"],
    ['core/show/a.ts', "export { x } from '../../lib/state/app.svelte.ts';"],
    ['core/records/a.ts', "import { x } from '../patch/b.ts';"],
    ['core/patch/deep/a.ts', "import type { x } from '../../show/b.ts';"],
    ['core/a.ts', "import { x } from './records/index.ts';"],
    ['core/attic/a.ts', "import { x } from '../units.ts';"],
    ['core/a.ts', "const x = await import('pg');"],
    ['core/a.ts', "import type { x } from 'svelte';"],
    ['engine/a.ts', "import { x } from '../lib/server/api.ts';"],
    ['db/a.ts', "import '../engine/main.ts';"],
    ['lib/components/A.svelte', '<script lang="ts">\n  import { db } from \'../server/services.ts\';\n</script>'],
    ['routes/+page.svelte', "<script>\n  import { x } from '../db/shows.ts';\n</script>"],
  ];
  for (const [file, text] of refused)
    test(`${file}: ${text.replace(/\s+/g, ' ')}`, () => assert.equal(faultsOf(file, text).length, 1));

  const allowed: [file: string, text: string][] = [
    ['core/a.ts', "import { z } from 'zod';\nimport { b } from './b.ts';"],
    [
      'core/show/a.ts',
      "import { x } from '../patch/b.ts';\nimport { y } from './deep/c.ts';\nimport { z } from '../ids.ts';",
    ],
    ['core/records/a.test.ts', "import { x } from '../show/index.ts';"],
    ['core/a.test.ts', "import fs from 'node:fs';\nimport { x } from '../../tests/support/rig.ts';"],
    ['engine/a.ts', "import dgram from 'node:dgram';\nimport { x } from '../core/units.ts';"],
    ['lib/a.svelte', "<script>\n  import { x } from '$core/units.ts';\n  import '../app.css';\n</script>"],
    ['core/a.ts', '// A line that says: import fs from "node:fs" is not allowed here.'],
  ];
  for (const [file, text] of allowed)
    test(`${file} may: ${text.split('\n')[0]}`, () => assert.deepEqual(faultsOf(file, text), []));

  test('hold in this tree', () => {
    assert.deepEqual(importFaults(path.resolve('src')), []);
  });
});

import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { knownHost, sameOrigin } from './origin.ts';

describe('who may talk to the server', () => {
  test('pages of the same origin, and scripts that have none', () => {
    assert.ok(sameOrigin(undefined, '127.0.0.1:5280'));
    assert.ok(sameOrigin('http://127.0.0.1:5280', '127.0.0.1:5280'));
    for (const origin of ['http://evil.test', 'null', 'http://127.0.0.1:9999', 'nonsense'])
      assert.equal(sameOrigin(origin, '127.0.0.1:5280'), false, origin);
  });
  test('only under a name of this machine: a foreign name that points here is refused', () => {
    for (const host of ['localhost:5280', '127.0.0.1:5280', '127.9.9.9', '[::1]:5280'])
      assert.ok(knownHost(host, '127.0.0.1'), host);
    for (const host of [undefined, '', 'evil.test', '192.168.1.5:5280', 'localhost.evil.test'])
      assert.equal(knownHost(host, '127.0.0.1'), false, host);
    assert.ok(knownHost('192.168.1.5:5280', '0.0.0.0'));
    assert.ok(knownHost('booth.test:5280', 'booth.test'));
    assert.equal(knownHost('evil.test', '0.0.0.0'), false);
  });
});

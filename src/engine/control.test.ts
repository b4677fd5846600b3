import assert from 'node:assert/strict';
import net from 'node:net';
import { after, before, describe, test } from 'node:test';
import { freePort } from '../../scripts/lib.mjs';
import { until } from '../../tests/support/app.ts';
import { FaultError } from '../core/faults.ts';
import { encodeJson, encodeMessage, MESSAGE_FRAME, MessageReader } from '../core/protocol/framing.ts';
import type { FromEngine } from '../core/protocol/link.ts';
import { ControlServer, UNKNOWN_ID } from './control.ts';

const TOKEN = 'secret';
type Heard = FromEngine & { id?: number; fault?: { code: string } | null };

/** The far end of the control socket. */
class Far {
  readonly socket: net.Socket;
  readonly heard: Heard[] = [];
  closed = false;
  constructor(port: number, reads = true) {
    this.socket = net.connect(port, '127.0.0.1');
    this.socket.on('error', () => undefined);
    this.socket.on('close', () => (this.closed = true));
    const reader = new MessageReader((_, payload) =>
      this.heard.push(JSON.parse(new TextDecoder().decode(payload)) as Heard),
    );
    if (reads) this.socket.on('data', (piece) => reader.push(piece));
    else this.socket.pause();
  }
  say(message: object): this {
    this.socket.write(encodeJson(message));
    return this;
  }
  command(id: number, command: object): this {
    return this.say({ type: 'command', id, by: { role: 'owner', name: 'test' }, command });
  }
  reply(id: number): Promise<Heard> {
    return until(`the reply to ${id}`, () => this.heard.find((m) => m.type === 'reply' && m.id === id));
  }
}

describe('the control socket', () => {
  let [port, empties] = [0, 0];
  const bugs: unknown[] = [];
  const acted: unknown[][] = [];
  const known = new Set<string>();
  let server: ControlServer;
  before(async () => {
    port = await freePort();
    server = new ControlServer({
      port,
      token: TOKEN,
      onAct: (...asked) => acted.push(asked),
      onCommand: (command) => {
        if (command.do === 'freeze') throw new Error('a bug in it');
        if (command.do === 'now' && !known.has(command.playId))
          throw new FaultError({ code: UNKNOWN_ID, path: 'command', message: 'not known', remedy: 'Wait.' });
        if (command.do === 'mood')
          throw new FaultError({ code: 'NO', path: 'mood', message: 'not now', remedy: 'Later.' });
      },
      // What was made a moment ago is read when somebody asks for it.
      onUnknown: () => Promise.resolve().then(() => void known.add('made')),
      onAsk: () => Promise.reject(new Error('nobody asks')),
      onBug: (error) => bugs.push(error),
      greet: () => [{ type: 'greeting' } as never],
      onEmpty: () => empties++,
    });
    await server.listen();
  });
  after(() => server.close());
  const friend = async (): Promise<Far> => {
    const far = new Far(port).say({ type: 'hello', token: TOKEN });
    await until('the greeting', () => far.heard.length > 0);
    return far;
  };

  test('carries out commands of whoever knows the token, and of nobody else', async () => {
    const far = await friend();
    assert.equal((await far.command(1, { do: 'grand', level: 0.5 }).reply(1)).fault, null);
    assert.equal((await far.command(2, { do: 'mood', mood: 'calm' }).reply(2)).fault!.code, 'NO');
    assert.ok((await far.command(3, { do: 'grand', level: 7 }).reply(3)).fault);
    assert.equal((await far.command(4, { do: 'now', playId: 'made' }).reply(4)).fault, null, 'known a moment later');
    assert.equal((await far.command(5, { do: 'now', playId: 'never' }).reply(5)).fault!.code, UNKNOWN_ID);
    for (const first of [{ type: 'hello', token: 'guess' }, { type: 'command', id: 1, command: {} }, {}]) {
      const stranger = new Far(port).say(first);
      await until('it to be cut off', () => stranger.closed);
      assert.deepEqual(stranger.heard, []);
    }
    assert.equal((await far.command(4, { do: 'grand', level: 1 }).reply(4)).fault, null);
    far.socket.destroy();
  });
  test('does what whoever asks may do: a desk acts and does not command', async () => {
    const far = await friend();
    const desk = { role: 'desk', name: 'Visitor' };
    const act = { action: { do: 'dark' }, signal: { kind: 'press' } };
    assert.equal((await far.say({ type: 'act', id: 1, by: desk, ...act }).reply(1)).fault, null);
    assert.deepEqual(acted.at(-1), [desk, act.action, act.signal]);
    const command = { do: 'grand', level: 1 };
    assert.equal((await far.say({ type: 'command', id: 2, by: desk, command }).reply(2)).fault!.code, 'NOT_ALLOWED');
    assert.ok((await far.say({ type: 'command', id: 3, command }).reply(3)).fault, 'nobody in particular');
    assert.ok((await far.say({ type: 'act', id: 4, by: desk, ...act, signal: { kind: 'value' } }).reply(4)).fault);
    far.socket.destroy();
  });
  test('a command with a bug behind it is answered; nobody loses the connection, nor the commands after it', async () => {
    const [one, two] = [await friend(), await friend()];
    const seen = bugs.length;
    one.command(1, { do: 'freeze', on: true }).command(2, { do: 'grand', level: 1 });
    two.command(1, { do: 'grand', level: 1 });
    assert.equal((await one.reply(1)).fault!.code, 'INTERNAL');
    assert.equal((await one.reply(2)).fault, null);
    assert.equal((await two.reply(1)).fault, null);
    assert.equal(bugs.length, seen + 1);
    for (const far of [one, two]) far.socket.destroy();
  });
  test('rubbish costs the connection it came on, and no other', async () => {
    const [one, two] = [await friend(), await friend()];
    one.socket.write(encodeMessage(MESSAGE_FRAME, new Uint8Array(9)));
    await until('it to be cut off', () => one.closed);
    const three = await friend();
    three.socket.write(Buffer.from('ffffffffffff', 'hex'));
    await until('it to be cut off', () => three.closed);
    assert.equal((await two.command(1, { do: 'grand', level: 1 }).reply(1)).fault, null);
    two.socket.destroy();
  });
  test('who does not read is cut off in the end, and the others hear everything', async () => {
    const reads = await friend();
    const deaf = new Far(port, false).say({ type: 'hello', token: TOKEN });
    await until('it to be let in', () => deaf.socket.readyState === 'open');
    const text = 'x'.repeat(1 << 20);
    const got = (): number => reads.heard.filter((m) => m.type === 'health').length;
    for (let i = 0; i < 90; i++) {
      server.broadcast({ type: 'health', text } as never);
      await until('it', () => got() === i + 1);
    }
    deaf.socket.resume();
    await until('it to be gone', () => deaf.closed);
    reads.socket.destroy();
  });
  test('strangers that say nothing take no room from others', async () => {
    const strangers = Array.from({ length: 40 }, () => new Far(port));
    const far = await friend();
    await until('most to be sent away', () => strangers.filter((s) => s.closed).length >= 24);
    assert.equal((await far.command(1, { do: 'grand', level: 1 }).reply(1)).fault, null);
    for (const stranger of strangers) stranger.socket.destroy();
    const before = empties;
    far.socket.destroy();
    await until('nobody left', () => empties > before);
  });
});

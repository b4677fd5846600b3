import { json, type RequestHandler } from '@sveltejs/kit';
import { z } from 'zod';
import { FaultError, faultsFromZod, internalFault, type Fault } from '../../core/faults.ts';
import { mustBeAllowed, SCRIPT, type Principal, type Right } from '../../core/protocol/principal.ts';
import { services } from './services.ts';
import { faultsOf } from './trouble.ts';

/** How every error of the API looks; `more` holds further faults of the same request. */
export const faultSchema = z.object({
  code: z.string(),
  message: z.string(),
  path: z.string(),
  received: z.unknown().optional(),
  remedy: z.string(),
  more: z
    .array(
      z.object({
        code: z.string(),
        message: z.string(),
        path: z.string(),
        received: z.unknown().optional(),
        remedy: z.string(),
      }),
    )
    .optional(),
});

export interface Endpoint<Body extends z.ZodType, Answer extends z.ZodType> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  readonly summary: string;
  /** What whoever calls it must be allowed to do. */
  readonly right: Right;
  readonly body?: Body;
  /** A file as the body or the answer instead of JSON. */
  readonly file?: 'body' | 'answer';
  readonly params?: Readonly<Record<string, z.ZodType>>;
  readonly query?: Readonly<Record<string, z.ZodType>>;
  readonly answer: Answer;
  readonly status?: number;
}

/** What a handler gets, already validated. */
export interface Call<Body> {
  readonly body: Body;
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string>>;
  readonly request: Request;
  readonly by: Principal;
}

const STATUS: Readonly<Record<string, number>> = {
  NOT_ALLOWED: 403,
  NO_SUCH_SHOW: 404,
  NO_SUCH_UNIVERSE: 404,
  NO_OPEN_SHOW: 409,
  SHOW_OPEN: 409,
  SHOW_EXISTS: 409,
  STALE_REVISION: 409,
  REVISION_AHEAD: 409,
  NOTHING_TO_UNDO: 409,
  NOTHING_TO_REDO: 409,
  CHANGED_SINCE: 409,
  HISTORY_GONE: 409,
  NO_SUCH_FILE: 404,
  NOT_HEARD: 404,
  BLOB_OFFSET: 409,
  BLOB_BUSY: 409,
  BLOB_MIXED_UP: 422,
  BLOB_TYPE: 415,
  BLOB_TOO_LARGE: 413,
  TOO_MANY_UPLOADS: 429,
  ENGINE_AWAY: 503,
  DATABASE_AWAY: 503,
  DISK_FULL: 507,
  NO_STANDIN: 404,
  NO_ANSWER: 504,
  DEVICE_AWAY: 504,
  RDM_UNKNOWN: 404,
  BODY_TOO_LARGE: 413,
  INTERNAL: 500,
};

/** Faults as a response: the first in the open, the rest beside it. */
export function faultResponse(faults: readonly Fault[], status?: number): Response {
  const [first = internalFault(), ...more] = faults;
  return json({ ...first, ...(more.length > 0 ? { more } : {}) }, { status: status ?? STATUS[first.code] ?? 400 });
}

/** Who calls: whoever reaches the program owns it, as long as there are no links with roles of their own. */
const principalOf = (_request: Request): Principal => SCRIPT;

/** A route handler from an endpoint's description: validates what comes in, runs, words what goes wrong. */
export function handle<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  run: (call: Call<z.output<Body>>) => Promise<z.input<Answer> | Response>,
): RequestHandler {
  return async ({ request, params, url }) => {
    try {
      const by = principalOf(request);
      mustBeAllowed(by, endpoint.right);
      const query = Object.fromEntries(url.searchParams);
      const faults = [...check(endpoint.params, params, 'path'), ...check(endpoint.query, query, 'query')];
      if (faults.length > 0) return faultResponse(faults);
      const body = endpoint.body ? await readBody(request, endpoint.body) : undefined;
      const answer = await run({
        body: body as z.output<Body>,
        params: params as Record<string, string>,
        query,
        request,
        by,
      });
      if (answer instanceof Response) return answer;
      return json(endpoint.answer.parse(answer), { status: endpoint.status ?? 200 });
    } catch (error) {
      return refused(error);
    }
  };
}

function check(
  schemas: Readonly<Record<string, z.ZodType>> | undefined,
  values: Readonly<Record<string, string | undefined>>,
  where: string,
): Fault[] {
  return Object.entries(schemas ?? {}).flatMap(([name, schema]) => {
    const parsed = schema.safeParse(values[name]);
    return parsed.success ? [] : faultsFromZod(parsed.error, values[name], `${where}.${name}`);
  });
}

/** Longest JSON body: the same as a message of the WebSocket. */
const JSON_BYTES = 16 * 1024 * 1024;

async function readBody(request: Request, schema: z.ZodType): Promise<unknown> {
  const text = new TextDecoder().decode(await readFile(request, JSON_BYTES));
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new FaultError({
      code: 'NOT_JSON',
      path: 'body',
      message: `not JSON: ${(error as Error).message.slice(0, 120)}`,
      received: text.slice(0, 80),
      remedy: 'Send a JSON body.',
    });
  }
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new FaultError(faultsFromZod(parsed.error, value, 'body').slice(0, 50));
  return parsed.data;
}

function refused(error: unknown): Response {
  // The adapter cuts a body that is too long with an error of its own kind.
  if ((error as { status?: number }).status === 413)
    return faultResponse([
      { code: 'BODY_TOO_LARGE', path: 'body', message: 'the request is too large', remedy: 'Send at most 64 MiB.' },
    ]);
  return faultResponse(faultsOf(error, (bug) => services().log.error({ err: bug }, 'a request failed')));
}

/** Reads a file from the body, at most `limit` bytes; stops reading when there is more. */
export async function readFile(request: Request, limit: number): Promise<Uint8Array> {
  const tooLarge = (): FaultError =>
    new FaultError({
      code: 'BODY_TOO_LARGE',
      path: 'body',
      message: `the body has more than ${limit} bytes`,
      received: request.headers.get('content-length'),
      remedy: `Send at most ${limit} bytes.`,
    });
  if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge();
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += piece.length;
    if (size > limit) throw tooLarge();
    pieces.push(piece);
  }
  return Buffer.concat(pieces);
}

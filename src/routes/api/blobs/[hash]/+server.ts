import { FaultError } from '$core/faults.ts';
import { handle } from '$lib/server/api.ts';
import { contentRange, rangeOf } from '$lib/server/ranges.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

/** A blob never changes: whoever has it need not ask again. It is shown as what it is and does nothing. */
const headers = (hash: string, type: string): Record<string, string> => ({
  'content-type': type,
  etag: `"${hash}"`,
  'cache-control': 'private, max-age=31536000, immutable',
  'accept-ranges': 'bytes',
  'content-security-policy': "default-src 'none'; sandbox",
});

export const GET = handle(ENDPOINTS.readBlob, async ({ params, request }) => {
  const hash = params['hash']!;
  const { files } = services();
  const found = await files.find(hash);
  if (!found)
    throw new FaultError({
      code: 'NO_SUCH_FILE',
      path: 'hash',
      message: 'there is no such file here',
      received: hash,
      remedy: 'Bring it in with PUT.',
    });
  const own = headers(hash, found.type);
  if (request.headers.get('if-none-match')?.includes(hash)) return new Response(null, { status: 304, headers: own });
  const ifRange = request.headers.get('if-range');
  const range = ifRange === null || ifRange.includes(hash) ? rangeOf(request.headers.get('range'), found.bytes) : null;
  if (range === 'outside')
    return new Response(null, { status: 416, headers: { ...own, 'content-range': `bytes */${found.bytes}` } });
  const [start, end] = range ?? [0, found.bytes - 1];
  return new Response(files.stream(hash, start, end), {
    status: range ? 206 : 200,
    headers: {
      ...own,
      'content-length': String(end - start + 1),
      ...(range ? { 'content-range': `bytes ${start}-${end}/${found.bytes}` } : {}),
    },
  });
});

export const PUT = handle(ENDPOINTS.putBlob, ({ params, request }) => {
  // SvelteKit gives no body where its type is not said.
  if (!request.body)
    throw new FaultError({
      code: 'NO_BODY',
      path: 'body',
      message: 'no bytes of the file came',
      received: request.headers.get('content-type'),
      remedy: 'Send them as the body, with Content-Type: application/octet-stream.',
    });
  const stretch = contentRange(request.headers.get('content-range'), request.headers.get('content-length'));
  return services().files.take(params['hash']!, stretch, request.body as unknown as AsyncIterable<Uint8Array>);
});

import { json, type Handle, type HandleServerError } from '@sveltejs/kit';
import { sameOrigin } from '$lib/server/origin.ts';
import { services } from '$lib/server/services.ts';

/** Pages of other origins may not change anything here; what does not exist is said in the API's own form. */
export const handle: Handle = async ({ event, resolve }) => {
  const { request, url } = event;
  if (
    request.method !== 'GET' &&
    request.method !== 'HEAD' &&
    !sameOrigin(request.headers.get('origin'), request.headers.get('host'))
  )
    return json(
      {
        code: 'FOREIGN_ORIGIN',
        message: 'pages of another origin may not change anything here',
        path: 'origin',
        received: request.headers.get('origin'),
        remedy: 'Open Amber Kite at its own address.',
      },
      { status: 403 },
    );
  const response = await resolve(event);
  if (
    url.pathname.startsWith('/api/') &&
    response.status === 404 &&
    !response.headers.get('content-type')?.includes('json')
  )
    return json(
      {
        code: 'NO_SUCH_ROUTE',
        message: `there is no ${url.pathname}`,
        path: 'path',
        received: url.pathname,
        remedy: 'See /api/openapi.json.',
      },
      { status: 404 },
    );
  if (url.pathname.startsWith('/api/') && response.status === 405)
    return json(
      {
        code: 'WRONG_METHOD',
        message: `${request.method} is not possible here`,
        path: 'method',
        received: request.method,
        remedy: 'See /api/openapi.json.',
      },
      { status: 405, headers: { allow: response.headers.get('allow') ?? '' } },
    );
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'no-referrer');
  return response;
};

export const handleError: HandleServerError = ({ error, status, event }) => {
  if (status !== 404) services().log.error({ err: error, path: event.url.pathname }, 'a page failed');
  return { message: status === 404 ? 'There is no such page.' : 'Something went wrong inside Amber Kite.' };
};

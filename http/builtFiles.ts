import type { IncomingMessage, ServerResponse } from 'node:http';
import sirv from 'sirv';

const address = '/_next/static/';

/**
 * Answers what asks for a file of the build, which everyone may see: packed by the build already, where that is
 * understood, so that nothing is packed again for each request. An address that only looks like one is not answered.
 *
 * @param folder where the build put them
 * @returns whether it was answered
 */
export function createBuiltFiles(folder: string): (request: IncomingMessage, response: ServerResponse) => boolean {
  const files = sirv(folder, {
    extensions: [],
    gzip: true,
    // Their names change with what is in them.
    maxAge: 31_536_000,
    immutable: true,
  });
  return (request, response) => {
    const { url = '', method, headers } = request;
    if (!url.startsWith(address) || (method !== 'GET' && method !== 'HEAD')) return false;
    // All are small: parts of one are not needed.
    headers.range = undefined;
    let isBuilt = true;
    request.url = url.slice(address.length - 1);
    files(request, response, () => {
      isBuilt = false;
    });
    request.url = url;
    return isBuilt;
  };
}

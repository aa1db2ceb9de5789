/**
 * What a browser may do with a page of the workshop: nothing from elsewhere, no script but its own. Styles set on an
 * element are allowed, since charts place their parts by them. While developing, what replaces parts of a page under
 * way evaluates text and brings styles of its own.
 *
 * Source: W3C Content Security Policy Level 3.
 */
export const contentSecurityPolicy = (nonce: string, { hotReload }: { hotReload: boolean }): string =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${hotReload ? " 'unsafe-eval'" : ''}`,
    `style-src 'self' ${hotReload ? "'unsafe-inline'" : `'nonce-${nonce}'`}`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');

/** On every answer. */
export const usualHeaders: Record<string, string> = {
  'X-Content-Type-Options': 'nosniff',
  'X-Frame-Options': 'DENY',
  'Referrer-Policy': 'no-referrer',
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Permissions-Policy': 'camera=(), microphone=(), geolocation=()',
};

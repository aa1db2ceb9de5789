import NextLink from 'next/link';
import type { ComponentProps } from 'react';

/**
 * A way to another screen. What it leads to is asked for when a person goes there: a page full of links would otherwise
 * ask the server for each of them, and again whenever it is redrawn.
 */
export const Link = (props: ComponentProps<typeof NextLink>) => <NextLink prefetch={false} {...props} />;

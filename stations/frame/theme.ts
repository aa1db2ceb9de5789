import 'server-only';
import { cookies } from 'next/headers';

export const themeOf = async (): Promise<'light' | 'dark'> =>
  (await cookies()).get('theme')?.value === 'dark' ? 'dark' : 'light';

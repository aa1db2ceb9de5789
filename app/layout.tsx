import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import 'bootstrap/dist/css/bootstrap.min.css';
import '@/ui/theme.css';
import { Frame } from '@/stations/frame/Frame';
import type { Metadata, Viewport } from 'next';
import { cookies } from 'next/headers';
import type { ReactNode } from 'react';

export const metadata: Metadata = { title: { default: 'Bold Ember', template: '%s · Bold Ember' }, description: 'Measure, grade, match and diagnose used cells and packs.', icons: { icon: '/icon.svg' } };
export const viewport: Viewport = { width: 'device-width', initialScale: 1 };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get('theme')?.value === 'dark' ? 'dark' : 'light';
  return (
    <html lang="en" data-bs-theme={theme}>
      <body>
        <Frame theme={theme}>{children}</Frame>
      </body>
    </html>
  );
}

import '@fontsource-variable/atkinson-hyperlegible-next/wght.css';
import '@fontsource-variable/atkinson-hyperlegible-mono/wght.css';
import 'bootstrap/dist/css/bootstrap.min.css';
import '@/ui/theme.css';
import { themeOf } from '@/stations/frame/theme';
import type { Metadata, Viewport } from 'next';
import type { ReactNode } from 'react';

export const metadata: Metadata = {
  title: { default: 'Bold Ember', template: '%s · Bold Ember' },
  description: 'Measure, grade, match and diagnose used cells and packs.',
  icons: { icon: '/icon.svg' },
};
export const viewport: Viewport = { width: 'device-width', initialScale: 1 };

export default async function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" data-bs-theme={await themeOf()}>
      <body>{children}</body>
    </html>
  );
}

import { Frame } from '@/stations/frame/Frame';
import { themeOf } from '@/stations/frame/theme';
import type { ReactNode } from 'react';

export default async function BenchLayout({ children }: { children: ReactNode }) {
  return <Frame theme={await themeOf()}>{children}</Frame>;
}

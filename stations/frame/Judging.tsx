'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';

const lookAgainMs = 3000;

/** All cells or runs are being judged, after a start or under other rules: how far. The screen follows by itself. */
export function Judging({ what, done, total }: { what: 'cells' | 'runs'; done: number; total: number }) {
  const router = useRouter();
  useEffect(() => {
    const timer = setInterval(() => startTransition(() => router.refresh()), lookAgainMs);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <p className="slip" role="status">
      {`Judging all ${what === 'runs' ? 'capacity tests' : what}: `}
      <b className="num">{Math.floor((100 * done) / Math.max(1, total))} %</b>. What is judged already is shown.
    </p>
  );
}

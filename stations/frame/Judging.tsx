'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';

const lookAgainMs = 3000;

/** All cells are being judged, after a start or under other rules: how far that is. The screen follows by itself. */
export function Judging({ done, total }: { done: number; total: number }) {
  const router = useRouter();
  useEffect(() => {
    const timer = setInterval(() => startTransition(() => router.refresh()), lookAgainMs);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <p className="slip" role="status">
      Judging all cells: <b className="num">{Math.floor((100 * done) / Math.max(1, total))} %</b>. What is judged
      already is shown.
    </p>
  );
}

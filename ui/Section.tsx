'use client';

import { useRouter } from 'next/navigation';
import { type ReactNode, startTransition, Suspense } from 'react';
import { ErrorBoundary } from 'react-error-boundary';

/** A part of a page: where it cannot be made, the others stay. The server's log has what went wrong. */
export function Section({ name, children }: { name: string; children: ReactNode }) {
  const router = useRouter();
  // The server makes the part again before it is shown again.
  const again = (reset: () => void): void =>
    startTransition(() => {
      router.refresh();
      reset();
    });
  return (
    <ErrorBoundary
      fallbackRender={({ error, resetErrorBoundary }) => (
        <section className="sheet mb-3" aria-label={name} role="alert">
          <h2>{name}</h2>
          <p className="hot mb-2">◆ This part cannot be shown. The rest of the page is complete.</p>
          <p className="soft mb-2">The server’s log has the cause{digestOf(error)}. Your readings are stored.</p>
          <button type="button" className="btn btn-plain" onClick={() => again(resetErrorBoundary)}>
            Try again
          </button>
        </section>
      )}
    >
      <Suspense fallback={<section className="sheet mb-3" aria-busy aria-label={name} />}>{children}</Suspense>
    </ErrorBoundary>
  );
}

/** Under which the server logged it. */
function digestOf(error: unknown): string {
  const digest = error instanceof Error && 'digest' in error ? String(error.digest) : '';
  return digest === '' ? '' : ` under ${digest}`;
}

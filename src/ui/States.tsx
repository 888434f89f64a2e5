/** The states that every view has: empty, loading, failed. */
import type { ReactNode } from 'react';
import { Button } from './Button';

export const Empty = ({ title, children }: { title: string; children?: ReactNode }) => (
  <div className="mx-auto max-w-md px-6 py-14 text-center">
    <p className="text-lg font-semibold">{title}</p>
    {children ? <div className="text-ink-2 mt-2">{children}</div> : null}
  </div>
);

export const Loading = ({ what }: { what: string }) => (
  <div role="status" className="text-ink-2 px-6 py-14 text-center">
    <span className="bg-accent mr-2 inline-block size-2 animate-pulse rounded-full" />
    Loading {what} …
  </div>
);

export const Failed = ({ what, error, retry }: { what: string; error: Error; retry: () => void }) => (
  <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
    <p className="font-semibold">{what} could not be loaded.</p>
    <p className="text-ink-2 mt-1">{error.message}</p>
    <p className="text-ink-2 mt-1">It is tried again by itself.</p>
    <div className="mt-4">
      <Button onClick={retry}>Try now</Button>
    </div>
  </div>
);

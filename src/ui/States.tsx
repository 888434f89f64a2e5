/** The states that every view has: empty, loading, failed. */
import type { ReactNode } from 'react';
import { Button } from './Button';

export const Empty = ({ title, children }: { title: string; children?: ReactNode }) => (
  <div className="mx-auto max-w-md px-6 py-14 text-center">
    <p className="text-lg font-semibold">{title}</p>
    {children ? <div className="mt-2 text-ink-2">{children}</div> : null}
  </div>
);

export const Loading = ({ what }: { what: string }) => (
  <div role="status" data-loading className="px-6 py-14 text-center text-ink-2">
    <span className="mr-2 inline-block size-2 animate-pulse rounded-full bg-accent" />
    Loading {what} …
  </div>
);

/** In place of a view that threw while it was drawn. */
export const Broken = ({ error, again }: { error: unknown; again: () => void }) => (
  <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
    <p className="font-semibold">This view could not be shown.</p>
    <p className="mt-1 wire text-ink-2">{error instanceof Error ? error.message : String(error)}</p>
    <p className="mt-1 text-ink-2">Nothing you saved or typed is lost; the other stations still work.</p>
    <div className="mt-4">
      <Button onClick={again}>Try again</Button>
    </div>
  </div>
);

export const Failed = ({ what, error, retry }: { what: string; error: Error; retry: () => void }) => (
  <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
    <p className="font-semibold">{what} could not be loaded.</p>
    <p className="mt-1 text-ink-2">{error.message}</p>
    <p className="mt-1 text-ink-2">Retrying automatically.</p>
    <div className="mt-4">
      <Button onClick={retry}>Try now</Button>
    </div>
  </div>
);

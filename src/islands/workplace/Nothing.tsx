/** In place of a view without a message: nothing was sent, or nothing that was sent counts. */
import type { ReactNode } from 'react';
import { trafficWords } from '../../core/table/traffic';
import { plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { useWorkplace } from './context';
import { useFindings } from './queries';

/** Why no message counts, as a title; `undefined` while that is not known, or where some do. */
export const useNothing = (): string | undefined => {
  const { place } = useWorkplace();
  const found = useFindings().data;
  if (!found || found.messages > 0) return undefined;
  return found.received === 0
    ? 'No messages yet.'
    : `${plural(found.received, 'message')} received, none of this traffic: ${trafficWords(place.lens.traffic)}.`;
};

export const Nothing = ({ title, children }: { title: string; children?: ReactNode }) => (
  <Empty title={useNothing() ?? title}>{children}</Empty>
);

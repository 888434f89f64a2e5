import { useEffect, useMemo, useState } from 'react';
import type { ReadName, Writing } from '../../core/plan/fields/field';
import { wasHandedOut } from '../../core/plan/sheet-writes';
import { whenIdle } from '../../ui/later';
import { useDraft } from '../workplace/context';
import { useSeen } from './use-seen';

/** What writing into a cell needs of this page. The list of verbs comes once the first view stands: until then a new name leaves object and action
 *  to be filled in.
 */
export const useWriting = (): Omit<Writing, 'now'> => {
  const { server } = useDraft();
  const seen = useSeen();
  const isPublished = server?.published !== null && server?.published !== undefined;
  const [partsOf, setPartsOf] = useState<ReadName>();
  useEffect(() => {
    let left = false;
    void whenIdle()
      .then(() => import('../../core/naming/object-action'))
      .then(
        (m) => {
          if (!left) setPartsOf(() => m.objectAction);
        },
        () => undefined,
      );
    return () => {
      left = true;
    };
  }, []);
  return useMemo(
    () => ({
      newId: () => crypto.randomUUID(),
      keepsFormer: (p, kind, id) => wasHandedOut(p, kind, id, isPublished, seen.events),
      partsOf,
    }),
    [isPublished, seen, partsOf],
  );
};

/** The workspace's own bench cases, as part of the draft. */
import { setField } from '../../core/plan/edit';
import { settingsOf, SETTINGS_ID, type IdentityCase } from '../../core/plan/plan';
import { usePlan, useWorkplace } from '../workplace/context';

export const useOwnCases = (): readonly [readonly IdentityCase[], (next: readonly IdentityCase[], label: string) => void] => {
  const plan = usePlan();
  const { store } = useWorkplace();
  return [
    settingsOf(plan).identityCases,
    (next, label) => {
      const edit = setField(plan, 'settings', SETTINGS_ID, 'identityCases', [...next]);
      if (edit) store.apply([edit], label);
    },
  ];
};

/** The stand-ins of the demo's sources: they are offered where the plan has the source that they send as. */
import type { Plan } from '../core/plan/plan';

const STAND_INS = [
  { id: 'web', source: 'web', tab: 'Web', title: 'web catalogue', recordsInteractions: true },
  { id: 'phone', source: 'app', tab: 'Phone', title: 'phone app', recordsInteractions: false },
  { id: 'kiosk', source: 'kiosk', tab: 'Kiosk', title: 'kiosk', recordsInteractions: false },
  { id: 'backend', source: 'backend', tab: 'Backend, traffic', title: 'backend and traffic', recordsInteractions: false },
] as const;

export const standInsOf = (plan: Plan): readonly (typeof STAND_INS)[number][] =>
  STAND_INS.filter((s) => plan.source[s.source] !== undefined);

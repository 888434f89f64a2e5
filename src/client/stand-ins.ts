/** The stand-ins of the demo's sources: they are offered where the plan has the source that they send as. */
import type { Plan } from '../core/plan/plan';

const STAND_INS = [
  { id: 'web', source: 'web', tab: 'Web', title: 'web catalogue' },
  { id: 'phone', source: 'app', tab: 'Phone', title: 'phone app' },
  { id: 'kiosk', source: 'kiosk', tab: 'Kiosk', title: 'kiosk' },
  { id: 'backend', source: 'backend', tab: 'Backend, traffic', title: 'backend and traffic' },
] as const;

export const standInsOf = (plan: Plan): readonly (typeof STAND_INS)[number][] =>
  STAND_INS.filter((s) => plan.source[s.source] !== undefined);

/** What the plan leaves open at the first and the fourth station, in words. */
import { stopsByEvent } from '../../core/hand-off/stops';
import type { ShownFinding } from '../../core/lint/lint';
import type { Plan } from '../../core/plan/plan';
import { planWaiting as counted } from '../../core/questions/plan-waiting';
import { count } from '../../ui/format';
import type { LineStation } from '../../ui/Line';

type Waiting = LineStation['waiting'];

/** `findings` of the plan’s rules; `undefined` before they were looked at, when nothing is called ready. */
export const planWaiting = (plan: Plan, findings: readonly ShownFinding[] | undefined): { questions: Waiting; handOff: Waiting } => {
  const { questions, undefined: open, incomplete, events, heldBack } = counted(plan, stopsByEvent(findings ?? []));
  return {
    questions:
      incomplete > 0
        ? [{ text: `${count(incomplete)} incomplete`, tone: 'caution' }]
        : open > 0
          ? [{ text: `${count(open)} undefined`, tone: 'plain' }]
          : [{ text: questions === 0 ? 'none yet' : 'all answerable', tone: questions === 0 ? 'plain' : 'clear' }],
    handOff:
      findings === undefined && events > 0 && heldBack === 0
        ? []
        : [
            {
              text: events === 0 ? 'no event yet' : heldBack > 0 ? `${count(heldBack)} held back` : 'all ready',
              tone: heldBack > 0 || events === 0 ? 'plain' : 'clear',
            },
          ],
  };
};

import { coverageOf, lackText } from '../../questions/coverage';
import { notKept, notKeptText } from '../../questions/not-kept';
import { typedFormula } from '../../questions/typed-conditions';
import { defineGate } from '../gate';

export const planned = defineGate({
  id: 'planned',
  asks: 'Does the published plan have everything it needs?',
  judge(question, _, c) {
    if (!c.published) return { signal: 'open', evidence: 'No version of the plan is published yet.' };
    const coverage = coverageOf(c.published.plan, question);
    const version = `version ${c.published.number}`;
    if (coverage.state === 'undefined') return { signal: 'open', evidence: `The formula is not complete: ${coverage.reason}.` };
    if (coverage.state === 'partly')
      return {
        signal: 'stop',
        brief: `${coverage.lacks.length === 1 ? 'One part' : `${coverage.lacks.length} parts`} of it ${coverage.lacks.length === 1 ? 'is' : 'are'} not in ${version}`,
        evidence: `In ${version}, ${coverage.lacks.map(lackText).join('; ')}. Publish the plan once it is added.`,
      };
    const lost = notKept(c.table, question);
    if (lost.length > 0) return { signal: 'stop', brief: 'It asks for values that are not kept', evidence: notKeptText(lost) };
    const { problems } = typedFormula(c.published.plan, question.formula!);
    if (problems.length > 0)
      return { signal: 'stop', brief: 'A condition cannot hold', evidence: `A condition cannot hold: ${problems.join(' ')}` };
    return {
      signal: 'clear',
      brief: `All that it needs is in ${version}`,
      evidence: `All that it needs is in ${version}: ${coverage.needs.map((n) => `\`${n.eventName}\``).join(', ')}.`,
    };
  },
});

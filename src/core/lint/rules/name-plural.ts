import { agreedName, objectAction } from '../../naming/object-action';
import { singularOf } from '../../naming/number-of';
import { lowerWords } from '../../naming/words';
import { settingsOf, type Plan } from '../../plan/plan';
import { indexOf } from '../../plan/plan-index';
import { withRenameFix } from '../../plan/rename';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
  readonly proposal: string | undefined;
}

export const namePlural = defineRule({
  id: 'name-plural',
  title: 'Object in the plural',
  why: 'An event happens to one thing; a plural beside a singular makes two objects out of one.',
  example: { wrong: '`Tools Viewed`', right: '`Tool Viewed`' },
  severity: 'note',
  message: (p: Params) => `The object “${p.word}” of \`${p.name}\` is in the plural.`,
  fix: (p: Params) => `Rename to \`${p.proposal ?? ''}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const agreed = new Set(naming.objects.map((o) => lowerWords(o).join(' ')));
    for (const [id, event] of liveEvents(plan)) {
      const parts = objectAction(event.name, naming);
      const word = parts?.object.at(-1);
      if (!parts || word === undefined || agreed.has(parts.object.join(' '))) continue;
      const singular = singularOf(word);
      if (singular === word) continue;
      const wanted = agreedName({ ...parts, object: parts.object.with(-1, singular) }, naming);
      const proposal = indexOf(plan).eventByName.has(wanted) ? undefined : wanted;
      yield {
        path: ['event', id, 'name'],
        params: { name: event.name, word, proposal },
        ...(proposal === undefined ? {} : withRenameFix(plan, 'event', id, proposal)),
      };
    }
  },
});

import { baseOf, synonymsOf } from '../../naming/agreed-words';
import { joinWords } from '../../naming/case-style';
import { pastOf, presentOf, tenseOf } from '../../naming/tense';
import { lowerWords } from '../../naming/words';
import { settingsOf, type Plan } from '../../plan/plan';
import { indexOf } from '../../plan/plan-index';
import { withRenameFix } from '../../plan/rename';
import { liveEvents, liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly word: string;
  readonly agreed: string;
  readonly proposal: string | undefined;
}

export const nameSynonym = defineRule({
  id: 'name-synonym',
  title: 'Synonym of an agreed word',
  why: 'Two words for one thing split a list in two, and half of it is overlooked.',
  example: { wrong: '`Tool Rented`, where “borrow” is agreed for “rent”', right: '`Tool Borrowed`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` says “${p.word}” where “${p.agreed}” is agreed.`,
  fix: (p: Params) => `Rename to \`${p.proposal ?? ''}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const synonyms = synonymsOf(naming);
    if (synonyms.size === 0) return;
    const index = indexOf(plan);
    for (const [kind, list, style, taken] of [
      ['event', liveEvents(plan), naming.eventCase, index.eventByName],
      ['property', liveProperties(plan), naming.propertyCase, index.propertyAt],
    ] as const)
      for (const [id, body] of list) {
        const { name } = body;
        const words = lowerWords(name);
        const at = words.findIndex((w) => synonyms.has(baseOf(w)));
        if (at < 0) continue;
        const word = words[at]!;
        const agreed = synonyms.get(baseOf(word))!;
        const wanted = words.map((w) => {
          const other = synonyms.get(baseOf(w));
          if (other === undefined) return w;
          // A verb keeps its tense.
          return tenseOf(w) === 'past' ? pastOf(other) : tenseOf(w) === 'present' ? presentOf(other) : other;
        });
        const proposal = joinWords(wanted, style);
        const within = 'within' in body ? (body.within ?? []) : [];
        const free = within.length === 0 ? !taken.has(proposal) : !index.propertyAt.has([...within, proposal]);
        yield {
          path: [kind, id, 'name'],
          params: { name, word, agreed, proposal: free ? proposal : undefined },
          ...(free ? withRenameFix(plan, kind, id, proposal) : {}),
        };
      }
  },
});

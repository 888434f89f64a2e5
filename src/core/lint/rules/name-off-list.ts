import { baseOf, synonymsOf } from '../../naming/agreed-words';
import { objectAction } from '../../naming/object-action';
import { lowerWords } from '../../naming/words';
import { settingsOf, SETTINGS_ID, type Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly part: 'object' | 'action';
  readonly word: string;
}

const keyOf = (words: readonly string[]): string => words.map(baseOf).join(' ');

export const nameOffList = defineRule({
  id: 'name-off-list',
  title: 'Word outside the agreed lists',
  why: 'A new word for a known thing hides the event from those who search for the agreed one.',
  example: { wrong: '`Gadget Viewed`, where the agreed objects are tool and loan', right: '`Tool Viewed`' },
  severity: 'note',
  message: (p: Params) => `The ${p.part} “${p.word}” of \`${p.name}\` is not on the list of agreed ${p.part}s.`,
  fix: (p: Params) => `Agree on “${p.word}” as ${p.part === 'object' ? 'an object' : 'an action'}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const lists = {
      object: new Set(naming.objects.map((o) => keyOf(lowerWords(o)))),
      action: new Set(naming.actions.map((a) => keyOf(lowerWords(a)))),
    };
    for (const [id, event] of liveEvents(plan)) {
      const parts = objectAction(event.name, naming);
      if (!parts) continue;
      for (const part of ['object', 'action'] as const) {
        const words = parts[part];
        // An empty list agrees on nothing yet. A synonym has a finding of its own.
        if (lists[part].size === 0 || words.length === 0 || lists[part].has(keyOf(words))) continue;
        if (words.some((w) => synonymsOf(naming).has(baseOf(w)))) continue;
        const word = words.join(' ');
        const field = part === 'object' ? 'objects' : 'actions';
        yield {
          path: ['event', id, 'name'],
          params: { name: event.name, part, word },
          fix: [
            {
              op: 'set',
              kind: 'settings',
              id: SETTINGS_ID,
              field: 'naming',
              before: naming,
              after: { ...naming, [field]: [...naming[field], word] },
            },
          ],
        };
      }
    }
  },
});

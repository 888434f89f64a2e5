/** The workspace's agreed words: lists of objects and actions, and synonyms with the word that is agreed on. */
import type { NamingRules } from '../plan/plan';
import { presentOf } from './tense';
import { singularOf } from './number-of';
import { lowerWords } from './words';

/** Synonym (in base form) → the agreed word (in base form). */
const tables = new WeakMap<NamingRules['synonyms'], ReadonlyMap<string, string>>();

export const synonymsOf = (rules: NamingRules): ReadonlyMap<string, string> => {
  const known = tables.get(rules.synonyms);
  if (known) return known;
  const made = new Map<string, string>();
  for (const [agreed, ...others] of rules.synonyms)
    if (agreed !== undefined) for (const o of others) made.set(baseOf(lowerWords(o).join(' ')), baseOf(lowerWords(agreed).join(' ')));
  tables.set(rules.synonyms, made);
  return made;
};

/** A word in singular and present: the form in which words are compared. */
export const baseOf = (word: string): string => {
  const verb = presentOf(word);
  return verb === word ? singularOf(word) : verb;
};

/** The words of a name in base form with synonyms replaced: names that say the same fall together. */
export const meaningKey = (name: string, rules: NamingRules): string => {
  const synonyms = synonymsOf(rules);
  return lowerWords(name)
    .map((w) => {
      const b = baseOf(w);
      return synonyms.get(b) ?? b;
    })
    .join(' ');
};

import { settingsOf, type Kind, type Plan } from '../../plan/plan';
import { withRenameFix } from '../../plan/rename';
import { liveEvents, liveProperties, liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

type Problem = 'blank at an end' | 'two blanks' | 'hidden character' | 'not composed' | 'beyond plain characters';
interface Params {
  readonly name: string;
  readonly problem: Problem;
  readonly proposal: string | undefined;
}

/** Marks of direction, joiners, and other characters without a glyph (Unicode general categories Cc, Cf). */
const HIDDEN = /[\p{Cc}\p{Cf}]/u;
const PLAIN = /^[A-Za-z0-9 \-_./]*$/;

const TEXT: Record<Problem, string> = {
  'blank at an end': 'begins or ends with a blank',
  'two blanks': 'holds two blanks in a row',
  'hidden character': 'holds a character that cannot be seen, such as a mark of direction',
  'not composed': 'is not in Unicode normal form C, so an equal-looking name is another one',
  'beyond plain characters': 'holds characters beyond A to Z, digits, blanks and - _ . /',
};

const cleaned = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}]/gu, '')
    .replace(/\s+/g, ' ')
    .trim();

const problemOf = (name: string, plainOnly: boolean): Problem | undefined =>
  name !== name.trim()
    ? 'blank at an end'
    : HIDDEN.test(name)
      ? 'hidden character'
      : /\s\s/.test(name)
        ? 'two blanks'
        : name !== name.normalize('NFC')
          ? 'not composed'
          : plainOnly && !PLAIN.test(name)
            ? 'beyond plain characters'
            : undefined;

export const nameCharacters = defineRule({
  id: 'name-characters',
  title: 'Characters of names',
  why: 'What cannot be seen or typed the same way twice makes two names out of one.',
  example: { wrong: '`Tool Viewed ` with a blank at its end', right: '`Tool Viewed`' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` ${TEXT[p.problem]}.`,
  fix: (p: Params) => `Rename to \`${p.proposal ?? ''}\``,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { plainCharacters } = settingsOf(plan).naming;
    for (const [kind, list] of [
      ['event', liveEvents(plan)],
      ['property', liveProperties(plan)],
      ['userProperty', liveUserProperties(plan)],
    ] as const satisfies readonly (readonly [Kind, unknown])[])
      for (const [id, { name }] of list) {
        const problem = problemOf(name, plainCharacters);
        if (!problem) continue;
        const clean = cleaned(name);
        const fixed = clean !== '' && clean !== name && problemOf(clean, plainCharacters) === undefined;
        const params = { name: name.slice(0, 80), problem, proposal: fixed ? clean : undefined };
        yield { path: [kind, id, 'name'], params, ...(fixed ? withRenameFix(plan, kind, id, clean) : {}) };
      }
  },
});

import { lowerWords } from '../../naming/words';
import { entries, type Plan } from '../../plan/plan';
import { isNumeric } from '../../plan/property-type';
import { needsOf } from '../../questions/coverage';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { PathMap, refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
}

/** Last words of names whose digits are never calculated with. Common practice, no source. */
const LABELS = new Set('id ids code postcode zip phone telephone isbn ean sku account pin number no ref reference'.split(' '));

export const identifierAsNumber = defineRule({
  id: 'identifier-as-number',
  title: 'Identifier kept as a number',
  why: 'As a number it loses leading zeros and, beyond 2^53, its last digits; nobody adds it up.',
  example: { wrong: '`order_number` of the type integer', right: '`order_number` of the type string' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is digits on which nothing is calculated; keep it as text.`,
  fix: () => 'Make it text',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const calculated = new PathMap(
      entries(plan, 'question').flatMap(([, q]) =>
        needsOf(q).flatMap((n) => n.properties.flatMap((p) => (p.numeric ? [[p.name, true] as const] : []))),
      ),
    );
    for (const [id, p] of liveProperties(plan)) {
      if (!isNumeric(p.type) || p.type.startsWith('list') || calculated.has(refOfProperty(p))) continue;
      const last = lowerWords(p.name).at(-1);
      // A number that is measured or counted has a unit.
      if (last === undefined || !LABELS.has(last) || (p.unit !== '' && last !== 'id')) continue;
      yield {
        path: ['property', id, 'type'],
        params: { name: refText(refOfProperty(p)) },
        fix: [{ op: 'set', kind: 'property', id, field: 'type', before: p.type, after: 'string' }],
      };
    }
  },
});

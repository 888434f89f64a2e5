import { meaningKey } from '../../naming/agreed-words';
import { sameValue } from '../../plan/edit';
import { settingsOf, type Id, type Plan, type UserProperty } from '../../plan/plan';
import { liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly other: string;
  readonly differs: 'name' | 'values';
}

export const userPropertyDiffers = defineRule({
  id: 'user-property-differs',
  title: 'User property set otherwise by another source',
  why: 'Half of the persons have the one, half the other, and neither count is right.',
  example: { wrong: '`plan_tier` as text from the web, as a number from the server', right: '`plan_tier` as text from both' },
  severity: 'caution',
  message: (p: Params) =>
    p.differs === 'name'
      ? `\`${p.other}\` and \`${p.name}\` say the same under two names, from different sources.`
      : `\`${p.name}\` is set with other values by another source.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    const byMeaning = new Map<string, [Id, UserProperty]>();
    for (const [id, u] of liveUserProperties(plan)) {
      const key = meaningKey(u.name, naming).split(' ').sort().join(' ');
      const other = byMeaning.get(key)?.[1];
      if (!other) {
        byMeaning.set(key, [id, u]);
        continue;
      }
      const apart = !u.sources.some((s) => other.sources.includes(s));
      if (!apart) continue;
      if (u.name !== other.name) yield { path: ['userProperty', id, 'name'], params: { name: u.name, other: other.name, differs: 'name' } };
      else if (!sameValue([...u.allowed].sort(), [...other.allowed].sort()))
        yield { path: ['userProperty', id, 'allowed'], params: { name: u.name, other: other.name, differs: 'values' } };
    }
  },
});

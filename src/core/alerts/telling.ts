/** Of what happened, what is told, and what each rule sends of it. */
import { itemOf, pathOf } from '../place-item';
import type { Happened } from './happened';
import type { KeptRule } from './kept-rule';
import { isAbout } from './rule';
import type { Told } from './written';

/** Where what happened is to be looked at, as a path. */
export const linkOf = ({ at }: Pick<Happened, 'at'>): string =>
  at === null
    ? pathOf('clearance', 'alerts')
    : 'question' in at
      ? pathOf('clearance', at.question)
      : pathOf('arrivals', itemOf('finding', at.finding));

export interface Telling {
  /** For the inbox: whatever any rule is about. */
  readonly told: readonly Happened[];
  readonly sent: readonly { readonly rule: KeptRule; readonly told: readonly Told[] }[];
}

/** `at`: of the look, UTC epoch ms. */
export const tellingOf = (rules: readonly KeptRule[], happened: readonly Happened[], at: number): Telling => ({
  told: happened.filter((h) => rules.some((r) => isAbout(r, h))),
  sent: rules.flatMap((rule) => {
    const told = rule.by === 'inbox' ? [] : happened.filter((h) => isAbout(rule, h));
    return told.length === 0
      ? []
      : [{ rule, told: told.map((h) => ({ kind: h.kind, severity: h.severity, says: h.says, about: h.about, link: linkOf(h), at })) }];
  }),
});

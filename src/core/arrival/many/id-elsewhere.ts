import { CausesBySource, defineManyCheck, type ManyFound } from '../check-many';

export interface IdElsewhere {
  readonly messages: number;
}

export const idElsewhere = defineManyCheck({
  id: 'id-elsewhere',
  on: 'many',
  title: 'ID that another source sent',
  why: 'Where one source passes on what another sends, each counts twice; where both count from one, a place that goes by IDs alone keeps one of two.',
  example: { wrong: 'the web and the server both send the message ID “1001”', right: 'IDs that begin with their source, or UUIDs' },
  method:
    'Message IDs that another source had sent before with the same content or another, as the intake noted it; each is counted at the source that came second.',
  severity: 'caution',
  fixer: () => 'source',
  expected: () => 'an ID that no other source sends',
  received: () => 'an ID that another source had sent before',
  message: (p: IdElsewhere) =>
    `came under an ID that another source had sent before, ${p.messages.toLocaleString('en-GB')} of them; both are kept and counted`,
  cause: () =>
    'One source passes on the messages of another, or sends again what went out through it; or both make their IDs in the same way.',
  fix: () => 'Send each message through one source; make IDs that are unique everywhere, such as UUIDs of version 7.',
  find({ people: { table } }) {
    const out: ManyFound<IdElsewhere>[] = [];
    const causes = new CausesBySource(table);
    for (const row of table.elsewhere) causes.of(row).add(row);
    causes.ofAll();
    for (const found of causes.found()) out.push({ params: { messages: found.count }, eventName: '', field: '', ...found });
    return out;
  },
});

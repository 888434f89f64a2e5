import { CausesBySource, defineManyCheck, type ManyFound } from '../check-many';

export interface IdReused {
  readonly messages: number;
}

export const idReused = defineManyCheck({
  id: 'id-reused',
  on: 'many',
  title: 'ID used again for other content',
  why: 'A message ID says which message it is. Where two messages share one, a place that goes by IDs keeps only the first.',
  example: { wrong: 'two messages with the ID “1001” and other content', right: 'an ID of its own for each message' },
  method:
    'Message IDs that the same source had sent before with other content, as the intake noted it; each is counted at the later message.',
  severity: 'caution',
  fixer: () => 'source',
  expected: () => 'an ID of its own for each message',
  received: () => 'an ID that an earlier message with other content has',
  message: (p: IdReused) =>
    `came under an ID that an earlier message with other content has, ${p.messages.toLocaleString('en-GB')} of them; all are kept and counted`,
  cause: () => 'The ID is made of too little, such as a counter that begins anew, or a fixed text.',
  fix: () => 'Make a new ID for each message, such as a UUID of version 7, and keep it only when the same message is sent again.',
  find({ people: { table } }) {
    const out: ManyFound<IdReused>[] = [];
    const causes = new CausesBySource(table);
    for (const row of table.reused) causes.of(row).add(row);
    causes.ofAll();
    for (const found of causes.found()) out.push({ params: { messages: found.count }, eventName: '', field: '', ...found });
    return out;
  },
});

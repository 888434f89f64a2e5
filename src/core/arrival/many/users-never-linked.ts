import { orphanCauses, type OrphanCause } from '../../identity/orphan-causes';
import { Cause, defineManyCheck, type ManyFound } from '../check-many';
import { refText } from '../../plan/property-path';

export interface NeverLinked {
  readonly cause: OrphanCause;
}

export const usersNeverLinked = defineManyCheck({
  id: 'users-never-linked',
  on: 'many',
  title: 'People whose identifiers never meet',
  why: 'Each counts as two people: the one who came before signing up, and the one who is known since.',
  example: { wrong: 'members whose web and server messages never share an identifier', right: 'a sign-in on the web that carries both' },
  method:
    "People who did an event with one value of a property, or in one release, and were still unknown an hour later, against all others who did it. Told where the shares lie apart by more than chance, and user IDs that no client ever sent show where the missing ones are. Then sources whose user IDs have a form that no other source's have, and those known to a server alone. Source: two shares compared by deviations of their pooled estimate; Wilson interval for a share.",
  severity: 'stop',
  shows: 'ids',
  parameters: {
    min: { title: 'Minimum people of a cause', unit: 'people', value: 5, min: 2, max: 1_000_000, whole: true },
  },
  fixer: () => 'source',
  expected: () => 'one message that carries both identifiers, once somebody is known',
  received: ({ cause }: NeverLinked) => `none for ${cause.people.toLocaleString('en-GB')} of ${cause.of.toLocaleString('en-GB')}`,
  message: ({ cause: c }: NeverLinked) => {
    const of = `${c.people.toLocaleString('en-GB')} of ${c.of.toLocaleString('en-GB')}`;
    switch (c.what) {
      case 'value':
        return `with \`${refText(c.property)}\` “${c.value}” is not followed by a link to a user ID: ${of} people who did it were still unknown an hour later, where ${percent(c.others)} of the others are known by then`;
      case 'release':
        return `in release ${c.value} is not followed by a link to a user ID: ${of} people who did it were still unknown an hour later, where ${percent(c.others)} of the others are known by then`;
      case 'shape':
        return `carry user IDs of the form ${c.value}, which no other source has: ${of} of them are never linked to another identifier`;
      default:
        return `carry user IDs that no client ever sent: ${of}`;
    }
  },
  cause: ({ cause: c }: NeverLinked) =>
    c.what === 'value' || c.what === 'release'
      ? 'After it nothing is sent that carries both identifiers: the identify call is missing there.'
      : c.what === 'shape'
        ? 'The source sends another field as the user ID.'
        : 'These people may never have used a client, or no client was asked to identify them.',
  fix: ({ cause: c }: NeverLinked) =>
    c.what === 'value' || c.what === 'release'
      ? `Identify the person on the client as soon as \`${c.eventName}\` has led to a user ID.`
      : c.what === 'shape'
        ? 'Send the user ID that the other sources send.'
        : 'Ask each client for the user ID after sign-in; what only a server knows stays apart.',
  *find({ plan, people }, { min }) {
    const { table } = people;
    const out: ManyFound<NeverLinked>[] = [];
    for (const { cause, rows, sourceId, of } of yield* orphanCauses(plan, people, min)) {
      const found = new Cause(table);
      for (const row of rows) found.add(row);
      out.push({
        params: { cause },
        eventName: cause.eventName,
        field: cause.what === 'value' ? `properties.${refText(cause.property)}` : `ids.${table.userKind}`,
        sourceId,
        ...(cause.what === 'server only' ? { severity: 'note' as const } : cause.what === 'shape' ? { severity: 'caution' as const } : {}),
        ...found.found(),
        outOf: of,
      });
    }
    yield* out;
  },
});

const percent = (n: number): string => `${(n * 100).toFixed(0)} %`;

import { entries, sessionGapMs, type OncePer } from '../../plan/plan';
import { CausesBySource, defineManyCheck, rowsByPerson, type ManyFound } from '../check-many';

export interface Repeated {
  readonly eventName: string;
  readonly oncePer: OncePer;
}

export const repeated = defineManyCheck({
  id: 'repeated',
  on: 'many',
  title: 'Fires too often',
  why: 'What is done once and counted on each view of a page measures views.',
  example: { wrong: 'two `Membership Activated` of one person, where the plan says once per person', right: 'one of each person' },
  method:
    'A session is as everywhere: the same person on the same source, the workspace’s minutes without a message end it. A page view is taken for the same page within a session. By release, so that one release is not hidden by others.',
  severity: 'stop',
  parameters: {
    min: { title: 'Minimum messages to report', unit: 'messages', value: 5, min: 1, max: 1000000, whole: true },
    share: { title: 'Minimum share to report', unit: '%', value: 5, min: 0, max: 100 },
  },
  fixer: () => 'source',
  expected: (p: Repeated) => `one a ${p.oncePer}`,
  received: () => 'several',
  message: (p: Repeated) => `came more than once per ${p.oncePer}, where the plan says once`,
  cause: () => 'It fires whenever its page is shown, not when the thing is done.',
  fix: (p: Repeated) => `Send \`${p.eventName}\` at the moment it happens, not when its page opens.`,
  *find(c, { min, share }) {
    const { plan, people } = c;
    const { table, count: persons } = people;
    const gapMs = sessionGapMs(plan);
    const out: ManyFound<Repeated>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      const { oncePer } = event;
      // A series comes several times by its nature; it has a check of its own.
      if (oncePer === '' || event.series) continue;
      yield;
      const rows = table.rowsOf(event.name);
      const time = table.time.raw;
      const { order, start } = rowsByPerson(people, event.name);
      yield;
      const byRelease = new Map<number, CausesBySource>();
      const causesOf = (row: number): CausesBySource => {
        const release = table.release.get(row);
        let causes = byRelease.get(release);
        if (!causes) byRelease.set(release, (causes = new CausesBySource(table)));
        return causes;
      };
      for (const row of rows) causesOf(row).of(row).outOf++;
      yield;
      for (let p = 0; p < persons; p++)
        for (let i = start[p]! + 1; i < start[p + 1]!; i++) {
          const row = order[i]!;
          for (let j = i - 1; j >= start[p]!; j--) {
            const before = order[j]!;
            if (oncePer !== 'person' && time[row]! - time[before]! > gapMs) break;
            if (table.source.get(row) !== table.source.get(before)) continue;
            if (oncePer === 'page view' && table.page.get(row) !== table.page.get(before)) continue;
            causesOf(row).of(row).add(row);
            break;
          }
        }
      for (const causes of byRelease.values())
        for (const found of causes.found())
          if (found.count >= min && found.count >= (found.outOf * share) / 100)
            out.push({ params: { eventName: event.name, oncePer }, eventName: event.name, field: '', ...found });
    }
    yield* out;
  },
});

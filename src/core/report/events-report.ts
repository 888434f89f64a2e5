/** A report on captured messages: each held against the plan, and all of them together. */
import { plural } from '../formats/format';
import { HistoryJudge, type RecordedLine } from '../arrival/history';
import type { manyChecks } from '../arrival/many/index';
import { checkOf } from '../arrival/words';
import { entries, settingsOf, SETTINGS_ID, type Plan } from '../plan/plan';
import { NumberColumn } from '../table/number-column';
import { EVERYTHING } from '../table/traffic';
import { ordered, type Case, type Place, type Report, type Result } from './report';

type ManyCode = (typeof manyChecks)[number]['id'];

/** What only days of history, or the intake itself, can tell: a capture of a build is no history. */
const OF_HISTORY: readonly ManyCode[] = [
  'never-seen', 'silence', 'volume-change', 'definition-dropped', 'turned-away', 'users-never-linked', 'late-arrival', 'too-old',
  'clock-ahead', 'clock-behind', 'implausible-time', 'no-user-id',
]; // prettier-ignore

const withoutHistory = (plan: Plan): Plan => {
  const settings = settingsOf(plan);
  const rules = Object.fromEntries(OF_HISTORY.map((id) => [id, { ...settings.rules[id], off: true }]));
  return { ...plan, settings: { ...plan.settings, [SETTINGS_ID]: { ...settings, rules: { ...settings.rules, ...rules } } } };
};

export interface CaptureLine extends RecordedLine {
  readonly place: Place;
}

/** Judges a capture as it comes; a file of any length is held in columns alone. */
export class CaptureJudge {
  private readonly judge: HistoryJudge;
  /** Of each message that counts, its line, 0 for none; and the files in their order, each with the place of its first message. */
  private readonly lines = new NumberColumn();
  private readonly files: { readonly file: string; readonly from: number }[] = [];
  private readonly unread: Result[] = [];
  private unreadable = 0;
  private read = 0;

  constructor(private readonly plan: Plan) {
    this.judge = new HistoryJudge(withoutHistory(plan));
  }

  add({ place, ...line }: CaptureLine): void {
    this.read++;
    if (!this.judge.add(line)) return;
    if (this.files.at(-1)?.file !== place.file) this.files.push({ file: place.file, from: this.lines.length });
    this.lines.push(place.line ?? 0);
  }

  /** Says about how many messages will come. */
  expect(messages: number): void {
    this.judge.expect(messages);
  }

  /** What is no message at all. */
  broken(problem: string, place: Place): void {
    this.unreadable++;
    if (this.unread.length < 100)
      this.unread.push({
        code: 'not-readable',
        severity: 'stop',
        subject: place.file,
        sentence: problem,
        fix: 'Send JSON objects, one a line or in a list.',
        places: [place],
      });
  }

  private placeOf(seq: number): Place {
    const line = this.lines.get(seq - 1);
    const { file } = this.files.findLast(({ from }) => from < seq)!;
    return { file, ...(line === 0 ? {} : { line }) };
  }

  /** Shape: `now` UTC epoch ms; fewer messages than `least` are a stop, since what was not looked at is not right. What another workspace would send is told as such: when no name is known, the plan is probably another one's. */
  report(title: string, now: number, least = 1, between?: () => void): Report {
    // Internal and test traffic is what a build sends.
    const { groups, rejected, duplicates, table } = this.judge.finish(now, now, EVERYTHING, between);
    const found: Result[] = groups.map((g) => ({
      code: g.code,
      severity: g.severity,
      subject: g.eventName === '' ? 'messages' : g.eventName,
      sentence: g.sentence,
      fix: g.fix,
      places: [...g.samples].sort((a, b) => a - b).map((seq) => this.placeOf(seq)),
      count: g.count,
      outOf: g.outOf,
    }));
    const turnedDown = new Map<string, Result>();
    for (const { rejected: r } of rejected) {
      const known = turnedDown.get(r.detail);
      turnedDown.set(
        r.detail,
        known
          ? { ...known, count: known.count! + 1 }
          : { code: 'rejected', severity: 'stop', subject: 'messages', sentence: r.detail, fix: '', places: [], count: 1 },
      );
    }
    const known = new Set(entries(this.plan, 'event').flatMap(([, e]) => [e.name, ...e.formerNames]));
    const names = table.names.values.filter((n) => n !== '');
    const strangers: Result[] =
      names.length >= 3 && names.every((n) => !known.has(n))
        ? [
            {
              code: 'another-plan',
              severity: 'stop',
              subject: 'messages',
              sentence: `None of the ${names.length} event names is in the plan.`,
              fix: 'Is this the plan of another workspace?',
              places: [],
            },
          ]
        : [];
    const few: Result[] =
      table.length < least
        ? [
            {
              code: 'too-few',
              severity: 'stop',
              subject: 'messages',
              sentence: `${plural(table.length, 'message')} counted; at least ${least.toLocaleString('en-GB')} ${least === 1 ? 'is' : 'are'} expected.`,
              fix: 'Is the file that of this run, and the part of the address that of the intake? --min says how many are expected.',
              places: [],
            },
          ]
        : [];
    const results = ordered([...few, ...strangers, ...this.unread, ...turnedDown.values(), ...found]);
    const bySubject = new Map<string, Result[]>();
    for (const r of results) bySubject.set(r.subject, [...(bySubject.get(r.subject) ?? []), r]);
    const cases = [...new Set([...names, ...bySubject.keys()])].map((name): Case => {
      const own = bySubject.get(name) ?? [];
      return {
        group: 'events',
        name,
        state: own.length > 0 ? 'failed' : 'passed',
        text: own.map((r) => `${r.severity}: ${r.sentence}`).join('\n'),
      };
    });
    const used = new Set(results.map((r) => r.code));
    return {
      command: 'events',
      title: `Captured messages against the plan ${title}`,
      facts: [
        `${this.read.toLocaleString('en-GB')} messages read, ${table.length.toLocaleString('en-GB')} counted, ${duplicates.toLocaleString('en-GB')} duplicates, ${(rejected.length + this.unreadable).toLocaleString('en-GB')} not readable or rejected`,
        `${names.length} event names`,
        ...(table.length === 0 ? ['No message was read: nothing is proven.'] : []),
      ],
      results,
      rules: [...used].map((code) => {
        const check = checkOf(code);
        return { code, title: check?.title ?? code, why: check?.why ?? '', severity: check?.severity ?? 'stop' };
      }),
      cases,
    };
  }
}

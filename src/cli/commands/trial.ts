/** `trial SCRIPT EVENTS`: a trial run offline, on captured messages. */
import { compileChecker } from '../../core/arrival/compile';
import { readMessage } from '../../core/arrival/message';
import { entries, type Plan } from '../../core/plan/plan';
import { completed } from '../../core/plan/defaults';
import { parseBody } from '../../core/plan/document-schema';
import { trialReport } from '../../core/report/trial-report';
import type { Report } from '../../core/report/report';
import { guessMarks, markOf } from '../../core/trial/capture';
import type { Mark, TrialMessage } from '../../core/trial/run';
import type { TrialScript } from '../../core/trial/script';
import { trialMessage } from '../../core/trial/trial-message';
import { withSides } from '../../core/trial/sides';
import { judgeTrial } from '../../core/trial/verdict';
import { parse } from 'yaml';
import { captured } from '../input/captured';
import { readPlan } from '../input/plan-source';
import { readText } from '../input/text-files';
import { misused, unreadable } from '../trouble';
import { sourceIdOf } from './events';

/** A script by its name or ID in the plan, or in a file of its own. */
const scriptOf = (plan: Plan, text: string): TrialScript => {
  const all = entries(plan, 'trial');
  const inPlan = all.find(([id, t]) => id === text || t.name === text)?.[1];
  if (inPlan) return inPlan;
  if (!/\.(?:ya?ml|json)$/i.test(text))
    throw misused(
      `The plan has no trial “${text}”. It has ${all.map(([, t]) => `“${t.name}”`).join(', ') || 'none'}; a file of its own ends in .yaml or .json.`,
    );
  let value: unknown;
  try {
    value = parse(readText(text));
  } catch (e) {
    if (e instanceof Error && 'code' in e) throw e;
    throw unreadable(text, `it is neither YAML nor JSON: ${(e as Error).message}`);
  }
  const read = parseBody('trial', completed('trial', value as TrialScript));
  if (!read.ok) throw unreadable(text, read.detail);
  return read.value as TrialScript;
};

export interface TrialOptions {
  readonly source?: string | undefined;
  readonly intake: string;
}

export const trialCommand = async (
  planPath: string,
  script: string,
  files: readonly string[],
  { source, intake }: TrialOptions,
): Promise<Report> => {
  const { plan, title, number } = await readPlan(planPath);
  const trial = scriptOf(plan, script);
  const sourceId = source === undefined ? undefined : sourceIdOf(plan, source);
  const checker = compileChecker(plan);
  const marks: Mark[] = [];
  const messages: TrialMessage[] = [];
  const known = new Set<string>();
  let unread = 0;
  for (const file of files)
    for await (const c of captured(file, { intake })) {
      if ('problem' in c) {
        unread++;
        continue;
      }
      const mark = markOf(c.value, trial);
      if (mark) {
        marks.push(mark);
        continue;
      }
      const read = readMessage(c.value);
      if (!read.ok) {
        unread++;
        continue;
      }
      const m = read.message;
      // Sent again, it counts once, as it does on arrival.
      const key = JSON.stringify([c.sourceId ?? '', m.id]);
      if (known.has(key)) continue;
      known.add(key);
      messages.push(
        trialMessage(checker, m, {
          seq: messages.length + 1,
          sourceId: sourceId ?? c.sourceId ?? '',
          receivedAt: c.receivedAt ?? m.occurredAt,
        }),
      );
    }
  messages.sort((a, b) => a.receivedAt - b.receivedAt);
  const guessed = marks.length === 0;
  const run = guessed ? { script: trial, marks: guessMarks(withSides(plan, trial), messages), guessed } : { script: trial, marks };
  const end = Math.max(0, ...marks.map((m) => m.at), ...messages.map((m) => m.receivedAt));
  // What a file does not hold does not come any more.
  const verdict = judgeTrial(run, messages, plan, end + Math.max(0, ...trial.steps.map((s) => s.waitMs)) + 1);
  return trialReport(trial, verdict, [
    `Plan ${title}, ${number > 0 ? `version ${number}` : 'not published'}`,
    `${messages.length} messages${unread > 0 ? `, ${unread} lines not readable` : ''}`,
    ...(guessed ? ['The file does not say when each step began: steps were told from the messages.'] : []),
  ]);
};

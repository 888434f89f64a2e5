/** The call of an event as a plain HTTP request, for a shell. */
import type { Plan, PlanEvent, Source } from '../../plan/plan';
import { sampleMessage } from '../ticket';

/** A text as one word of a shell, whatever is in it. Source: POSIX.1-2017, Shell Command Language, 2.2.2: nothing is special between single quotes. */
export const shellWord = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;

/** Shape: what is in double braces is to be replaced; it can be pasted into a POSIX shell as it is. */
export const httpCall = (plan: Plan, event: PlanEvent, source: Source | undefined, origin: string): string =>
  [
    `curl -X POST ${shellWord(`${origin}/intake`)}`,
    `  -H ${shellWord('Authorization: Bearer {{write_key}}')}`,
    `  -H ${shellWord('Content-Type: application/json')}`,
    `  -d ${shellWord(JSON.stringify([sampleMessage(plan, event, source)], null, 2))}`,
  ].join(' \\\n');

/** Requests at an even rate, as many senders make them. */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { pause } from '../ops/shell';

/** Begins so many requests a second for some seconds, whether or not those before have answers; what each took, in ms. Errors: what a request throws. */
export const sendEvenly = async (aSecond: number, seconds: number, send: () => Promise<void>): Promise<number[]> => {
  const took: number[] = [];
  const began = performance.now();
  const answers: Promise<void>[] = [];
  for (let i = 0; i < aSecond * seconds; i++) {
    const wait = began + (i * 1000) / aSecond - performance.now();
    if (wait > 0) await pause(wait);
    const from = performance.now();
    answers.push(send().then(() => void took.push(performance.now() - from)));
  }
  await Promise.all(answers);
  return took;
};

export const quantile = (values: readonly number[], p: number): number => {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * p))]!;
};
export const median = (values: readonly number[]): number => quantile(values, 0.5);

/** Something that goes on beside what is measured, in a process of its own, so that its work is not measured too. It says when it has begun; what is returned ends
 *  it, and gives what it says of what it did.
 */
export const beside = async (script: string, args: readonly string[]): Promise<() => Promise<string>> => {
  const child = fork(script, [...args], { execArgv: ['--import', 'tsx'] });
  await once(child, 'message');
  return async () => {
    child.send('end');
    const [said] = (await once(child, 'message')) as [string];
    child.kill('SIGKILL');
    return said;
  };
};

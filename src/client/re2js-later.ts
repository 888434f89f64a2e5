/** The matcher of patterns, in place of `re2js` on the page's own thread, where it comes after the first view: it is large, and is needed only
 *  when somebody writes a pattern. Until it is there every pattern of right syntax passes; the server, which has it always, has the last word.
 *  Chosen for the page by `astro.config.mjs`.
 */
import type { RE2JS as Re2 } from 're2js';

type Engine = typeof Re2;
type Program = Pick<ReturnType<Engine['compile']>, 'programSize' | 'test'>;

let engine: Engine | undefined;

const load = (): void =>
  void import('re2js').then(
    (m) => void (engine = m.RE2JS),
    () => undefined,
  );
const AFTER_MS = 4000;
setTimeout(load, AFTER_MS);

export const RE2JS = {
  compile: (source: string): Program => engine?.compile(source) ?? { programSize: () => 0, test: () => true },
};

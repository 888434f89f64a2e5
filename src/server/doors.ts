/** Who may come in, and what pages may do: names under which the application answers, origins, headers of safety. */
import { createHash } from 'node:crypto';
import { THEME_SCRIPT } from '../core/theme-script';

/** Names that only this machine has. */
const OWN_NAMES = new Set(['localhost', '127.0.0.1', '[::1]']);

const named = (list: string | undefined): ReadonlySet<string> =>
  new Set(
    (list ?? '')
      .split(',')
      .map((h) => h.trim().toLowerCase())
      .filter(Boolean),
  );

/** The name in a Host header, without its port. Source: RFC 9110, 7.2. */
const nameIn = (host: string): string => host.toLowerCase().replace(/:\d*$/, '');

/** Whether the application answers under this Host: a page of another name that was made to point here must not read or change anything. Further names
 *  are given in SIGNAL_POST_HOSTS, separated by commas.
 */
export const isOwnHost = (host: string | null | undefined, further = process.env['SIGNAL_POST_HOSTS']): boolean => {
  if (!host) return false;
  const name = nameIn(host);
  return OWN_NAMES.has(name) || named(further).has(name);
};

/** Whether a request comes from a page of another site. */
export const isForeign = (origin: string | null, host: string): boolean => {
  if (origin === null) return false;
  try {
    return new URL(origin).host !== host;
  } catch {
    return true;
  }
};

export const EVERYWHERE: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'x-frame-options': 'SAMEORIGIN',
};

/** Nothing that is not a page has anything to run. */
export const DATA_POLICY = "default-src 'none'; frame-ancestors 'none'";

declare const FRAMEWORK_SCRIPTS: readonly string[] | undefined;

/** The scripts that stand in pages: our own, and those of the framework, which the build writes down. */
const KNOWN_SCRIPTS: readonly string[] = [THEME_SCRIPT, ...(typeof FRAMEWORK_SCRIPTS === 'undefined' ? [] : FRAMEWORK_SCRIPTS)];

/** What a page may load and run: only what comes from here, and of scripts that stand in it those that are known beforehand. A script that got into a page by
 *  whatever way does not run by being there.
 *  Source: W3C Content Security Policy Level 3; the hashes by 2.4.1.
 */
export const pagePolicy = (known: readonly string[] = KNOWN_SCRIPTS): string => {
  const scripts = known.map((text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`);
  return [
    "default-src 'self'",
    `script-src 'self' ${[...new Set(scripts)].join(' ')}`.trim(),
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "worker-src 'self' blob:",
    "frame-src 'self'",
    "frame-ancestors 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
  ].join('; ');
};

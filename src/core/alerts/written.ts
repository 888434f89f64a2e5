/** An alert as it is sent: a CloudEvent for programs, a mail for people. */
import { xmlText } from '../formats/xml-text';
import type { Happened } from './happened';

export interface Told {
  readonly kind: Happened['kind'] | 'test';
  readonly severity: Happened['severity'];
  readonly says: string;
  readonly about?: Happened['about'];
  /** An address to look at. */
  readonly link: string;
  /** UTC epoch ms. */
  readonly at: number;
}

/** More are counted, not listed. */
const MAX_LISTED = 50;

export interface Delivered {
  /** Stays the same over all tries: by it a receiver knows what it has already. */
  readonly id: string;
  readonly workspace: string;
  readonly rule: string;
  readonly told: readonly Told[];
  /** UTC epoch ms of the delivery's making. */
  readonly at: number;
}

const plain = (says: string): string => says.replaceAll('`', '');

/** What is to be known to act, a line each: whose it is, where, in which release, for which question. */
const aboutLines = ({ about }: Told): string[] => {
  if (!about) return [];
  const line = (word: string, many: string, names: readonly string[]): string[] =>
    names.length === 0 ? [] : [`${names.length === 1 ? word : many}: ${names.join(', ')}`];
  return [
    ...line('Owner', 'Owners', about.owners),
    ...line('Source', 'Sources', about.sources),
    ...line('Release', 'Releases', about.releases.map((r) => (r === '' ? 'none given' : r))), // prettier-ignore
    ...line('Event', 'Events', about.events),
    ...line('Question', 'Questions', about.questions),
  ];
};

/** Source: CloudEvents 1.0.2, structured mode in JSON. `origin`: where this workspace answers. */
export const cloudEvent = (d: Delivered, origin: string): Record<string, unknown> => ({
  specversion: '1.0',
  id: d.id,
  source: `${origin}/`,
  type: 'signal-post.alerts',
  time: new Date(d.at).toISOString(),
  datacontenttype: 'application/json',
  data: {
    workspace: d.workspace,
    rule: d.rule,
    count: d.told.length,
    alerts: d.told.slice(0, MAX_LISTED).map((t) => ({
      kind: t.kind,
      severity: t.severity,
      text: plain(t.says),
      ...(t.about ?? {}),
      link: origin + t.link,
      time: new Date(t.at).toISOString(),
    })),
  },
});

export const subjectOf = (d: Delivered): string => {
  const [first, ...more] = d.told;
  const text = first ? plain(first.says) : d.rule;
  // A line break in a header would begin another one.
  const line = text.replace(/\s+/g, ' ').slice(0, 120);
  return `${d.workspace}: ${line}${more.length > 0 ? ` (and ${more.length} more)` : ''}`.replace(/\s+/g, ' ');
};

export const mailText = (d: Delivered, origin: string): string =>
  [
    `${d.rule}, in ${d.workspace}`,
    '',
    ...d.told
      .slice(0, MAX_LISTED)
      .flatMap((t) => [`- ${plain(t.says)}`, ...aboutLines(t).map((l) => `  ${l}`), `  ${origin}${t.link}`, '']),
    ...(d.told.length > MAX_LISTED ? [`And ${d.told.length - MAX_LISTED} more: ${origin}/clearance/alerts`, ''] : []),
    `Whom it is told to and when is set at ${origin}/clearance/alerts`,
  ].join('\n');

const INK = { stop: '#ae2f18', caution: '#8a5b00', note: '#4c5852' } as const;

/** Names in back quotes as code. */
const rich = (says: string): string =>
  says
    .split('`')
    .map((part, i) => (i % 2 === 1 ? `<code>${xmlText(part)}</code>` : xmlText(part)))
    .join('');

export const mailHtml = (d: Delivered, origin: string): string =>
  [
    '<div style="font-family:sans-serif;color:#17211d;max-width:640px">',
    `<p style="color:#4c5852">${xmlText(d.rule)}, in ${xmlText(d.workspace)}</p>`,
    ...d.told.slice(0, MAX_LISTED).map(
      (t) =>
        `<p><b style="color:${INK[t.severity]}">${xmlText(t.kind)}</b><br>${rich(t.says)}${aboutLines(t)
          .map((l) => `<br><span style="color:#4c5852">${xmlText(l)}</span>`)
          .join('')}<br><a href="${xmlText(origin + t.link)}">Look at it</a></p>`,
    ),
    ...(d.told.length > MAX_LISTED ? [`<p>And ${d.told.length - MAX_LISTED} more.</p>`] : []),
    `<p style="color:#4c5852"><a href="${xmlText(origin)}/clearance/alerts">Whom it is told to, and when</a></p></div>`,
  ].join('\n');

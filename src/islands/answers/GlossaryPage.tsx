/** The glossary: what each name means, and who to ask. Rendered by the server, without a script. */
import { definitionText } from '../../core/definitions/text';
import { entries, isLive, settingsOf, type Plan } from '../../core/plan/plan';
import { refOfProperty, refText } from '../../core/plan/property-path';
import { ended } from '../../core/sentence';
import { Rich } from '../../ui/Rich';
import { answerHref, LINK, ReaderPage } from './parts';

interface Entry {
  readonly name: string;
  readonly note: string;
  readonly says: readonly string[];
  readonly ask: string;
}

const byName = (a: Entry, b: Entry): number => a.name.localeCompare(b.name, 'en');

const entriesOf = (plan: Plan): { readonly title: string; readonly entries: readonly Entry[] }[] => [
  {
    title: 'Events',
    entries: entries(plan, 'event')
      .filter(([, e]) => isLive(e))
      .map(([, e]) => ({
        name: e.name,
        note: e.sources.map((s) => plan.source[s.sourceId]?.name ?? s.sourceId).join(', '),
        says: [
          ended(e.description) || 'Not described yet.',
          e.trigger === '' ? '' : `Trigger: ${ended(e.trigger)}`,
          e.formerNames.length === 0 ? '' : `Formerly ${e.formerNames.map((n) => `\`${n}\``).join(', ')}.`,
        ],
        ask: e.owner,
      }))
      .sort(byName),
  },
  {
    title: 'Events made of what is recorded',
    entries: entries(plan, 'definition')
      .filter(([, d]) => !d.retired)
      .map(([, d]) => ({
        name: d.name,
        note: '',
        says: [ended(d.description), `Made of: ${ended(definitionText(d))}`],
        ask: d.owner,
      }))
      .sort(byName),
  },
  {
    title: 'Properties',
    entries: entries(plan, 'property')
      .filter(([, p]) => !p.retired)
      .map(([, p]) => ({
        name: refText(refOfProperty(p)),
        note: [p.type, p.unit].filter(Boolean).join(', '),
        says: [
          ended(p.description) || 'Not described yet.',
          p.allowed.length === 0 ? '' : `One of ${p.allowed.slice(0, 12).map((v) => `\`${v}\``).join(', ')}${p.allowed.length > 12 ? ` and ${p.allowed.length - 12} more` : ''}.`, // prettier-ignore
        ],
        ask: '',
      }))
      .sort(byName),
  },
  {
    title: 'Properties of people',
    entries: entries(plan, 'userProperty')
      .filter(([, p]) => !p.retired)
      .map(([, p]) => ({
        name: refText(refOfProperty(p)),
        note: [p.type, p.unit].filter(Boolean).join(', '),
        says: [ended(p.description) || 'Not described yet.', p.registered ? '' : 'Not registered for reporting.'],
        ask: '',
      }))
      .sort(byName),
  },
];

export const GlossaryPage = ({ plan, version }: { plan: Plan; version: number }) => {
  const { name, naming } = settingsOf(plan);
  const terms = entries(plan, 'question').filter(([, q]) => q.definition !== '');
  const parts = entriesOf(plan).filter((p) => p.entries.length > 0);
  return (
    <ReaderPage workspace={name} here="glossary">
      <h1 className="text-[1.75rem] leading-tight font-bold">Glossary</h1>
      <p className="mt-1 text-ink-2">
        What each name means and who to ask, as of version {version} of the plan.{' '}
        <span className="print:hidden">
          {parts.map((p) => (
            <a key={p.title} href={`#${p.title.replaceAll(' ', '-')}`} className={`mr-3 ${LINK}`}>
              {p.title}
            </a>
          ))}
        </span>
      </p>
      {terms.length > 0 ? (
        <section aria-label="Terms" className="mt-6">
          <h2 className="mb-1 text-lg font-bold">Terms</h2>
          {terms.map(([id, q]) => (
            <p key={id} className="border-t border-rule py-1.5">
              {q.definition}{' '}
              <a href={answerHref(id)} className={LINK}>
                {q.text}
              </a>
            </p>
          ))}
        </section>
      ) : null}
      {naming.synonyms.length > 0 ? (
        <section aria-label="Words that mean the same" className="mt-6">
          <h2 className="mb-1 text-lg font-bold">Words that mean the same</h2>
          {naming.synonyms.map(([agreed, ...others]) => (
            <p key={agreed} className="border-t border-rule py-1">
              <b>{agreed}</b>, not {others.join(', ')}
            </p>
          ))}
        </section>
      ) : null}
      {parts.map((p) => (
        <section key={p.title} id={p.title.replaceAll(' ', '-')} aria-label={p.title} className="mt-6 scroll-mt-4">
          <h2 className="mb-1 text-lg font-bold">{p.title}</h2>
          <dl>
            {p.entries.map((e) => (
              <div
                key={e.name}
                className="grid break-inside-avoid grid-cols-1 border-t border-rule py-1.5 sm:grid-cols-[260px_1fr] sm:gap-x-4"
              >
                <dt>
                  <span className="wire break-words">{e.name}</span>
                  {e.note ? <span className="block text-sm text-ink-2">{e.note}</span> : null}
                </dt>
                <dd>
                  <Rich text={e.says.filter(Boolean).join(' ')} />
                  {e.ask ? <span className="text-ink-2"> Ask {e.ask}.</span> : null}
                </dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </ReaderPage>
  );
};

export const NoGlossary = () => (
  <ReaderPage workspace="" here="glossary">
    <h1 className="text-[1.75rem] leading-tight font-bold">Glossary</h1>
    <p className="mt-2 text-ink-2">The plan has no published version yet. Its names are explained here once it has.</p>
  </ReaderPage>
);

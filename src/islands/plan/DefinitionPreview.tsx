/** What a definition takes of the recorded messages, as its sentence says it now. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../../client/api';
import { copied } from '../../core/definitions/copied';
import type { Definition } from '../../core/definitions/definition';
import type { DefinitionPreview as Preview, Shared } from '../../core/definitions/definition-preview';
import { toldApart, type Told } from '../../core/definitions/look-alikes';
import { conditionText, groupText } from '../../core/definitions/text';
import type { LiveMessage } from '../../core/arrival/live-message';
import { maskedDeep } from '../../core/arrival/excerpt';
import { limitsOf } from '../../core/plan/limits';
import { settingsOf, type Plan } from '../../core/plan/plan';
import { Bars } from '../../ui/Bars';
import { count, dayText, instantText, percent, plural } from '../../ui/format';
import { SourceMark } from '../../ui/SourceMark';
import { places } from '../workplace/place';
import { useWorkplace } from '../workplace/context';
import { Rich } from '../../ui/Rich';

const SHOWN_DAYS = 56;
const SHOWN_PAGES = 8;
const SAMPLES = 4;

const Head = ({ children }: { children: string }) => <h3 className="mb-0.5 text-sm font-bold text-ink-2">{children}</h3>;

const valuesText = (v: unknown): string => {
  const text = JSON.stringify(v) ?? '';
  return text === '{}' ? 'no properties' : text;
};

/** Messages by their numbers, with their properties as the definition has them. */
const Samples = ({ plan, seqs, changes }: { plan: Plan; seqs: readonly number[]; changes: Definition['changes'] }) => {
  const shown = seqs.slice(0, SAMPLES);
  const { timeZone } = settingsOf(plan);
  const { data, error } = useQuery<readonly LiveMessage[]>({
    queryKey: ['messages', shown],
    queryFn: ({ signal }) => ask('GET /api/messages', { query: { seq: shown.join(',') } }, signal),
    enabled: shown.length > 0,
  });
  if (shown.length === 0) return <p className="text-ink-2">None.</p>;
  if (error) return <p role="alert">{error.message}</p>;
  return (
    <ul>
      {data?.map((m) => {
        const source = plan.source[m.sourceId];
        const sent = (m.body['properties'] ?? {}) as Record<string, unknown>;
        const { values, notes } = copied(maskedDeep(sent) as Record<string, unknown>, changes);
        return (
          <li key={m.seq} className="border-b border-dotted border-rule py-1">
            <span className="flex items-center gap-2">
              {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : m.sourceId}
              <span className="wire">{m.name || m.kind}</span>
              <span className="text-sm text-ink-2" title={instantText(m.occurredAt)}>
                {dayText(m.occurredAt, timeZone)}
              </span>
            </span>
            <span className="block truncate wire text-[0.85rem] text-ink-2" title={valuesText(values)}>
              {valuesText(values)}
            </span>
            {changes.length > 0
              ? notes.map((n) => (
                  <span key={n} className="block text-sm text-caution">
                    <Rich text={n} />
                  </span>
                ))
              : null}
          </li>
        );
      })}
    </ul>
  );
};

/** How two sets of messages lie: what only the one has, what both have, what only the other has. */
const SharedRow = ({ shared: s, messages }: { shared: Shared; messages: number }) => {
  const { go } = useWorkplace();
  const union = messages + s.messages - s.both;
  const part = (n: number): string => `${(n / union) * 100}%`;
  return (
    <li className="border-b border-dotted border-rule py-1">
      <button
        type="button"
        className="min-h-[24px] wire underline decoration-dotted hover:text-accent"
        onClick={() => go(...places.opened('definition', s.id))}
      >
        {s.name}
      </button>
      <span className="flex h-[9px] w-full" aria-hidden>
        <span className="border border-accent" style={{ width: part(messages - s.both) }} />
        <span className="bg-accent" style={{ width: part(s.both) }} />
        <span className="border border-ink-2" style={{ width: part(s.messages - s.both) }} />
      </span>
      <span className="text-sm text-ink-2">
        {count(s.both)} in both: {percent(s.both / messages)} of these, {percent(s.both / s.messages)} of its {count(s.messages)}
      </span>
    </li>
  );
};

const Values = ({ values, more, wire = false, odd = false }: { values: Told['others']; more: number; wire?: boolean; odd?: boolean }) => (
  <ul className="mb-2">
    {values.map((x) => (
      <li key={x.value} className="flex gap-2 border-b border-dotted border-rule">
        <bdi className={`min-w-0 truncate ${wire ? 'wire' : ''} ${odd ? 'text-caution' : ''}`} title={x.value}>
          {x.value || 'nothing'}
        </bdi>
        <span className="ml-auto text-sm figures">{count(x.messages)}</span>
      </li>
    ))}
    {more > 0 ? <li className="text-sm text-ink-2">and {count(more)} more</li> : null}
  </ul>
);

const Odd = ({ values, wire = false }: { values: Told['unlike']; wire?: boolean }) =>
  values.length === 0 ? null : (
    <>
      <Head>Look closely: these match too</Head>
      <Values values={values} more={0} wire={wire} odd />
    </>
  );

const sourceWords = ({ source }: Pick<Definition, 'source'>): string =>
  source.of === 'events' ? `messages of ${source.names.map((n) => `\`${n}\``).join(' or ')}` : source.of;

export const DefinitionPreview = ({
  plan,
  definition,
  preview: p,
  conversion,
}: {
  plan: Plan;
  definition: Definition;
  preview: Preview;
  conversion: boolean;
}) => {
  const { timeZone } = settingsOf(plan);
  const [missed, setMissed] = useState<number | undefined>();
  const pages = toldApart(p.byPage, p.lookAlikes, SHOWN_PAGES);
  const texts = toldApart(p.byText, p.textLookAlikes, SHOWN_PAGES);
  const partText = (part: number): string => {
    const { conditions, groups } = definition.where;
    const condition = conditions[part];
    const group = groups[part - conditions.length];
    const names = (id: string): string => plan.source[id]?.name ?? id;
    return condition ? conditionText(condition, names) : group ? groupText({ ...group, groups: [] }, names) : '';
  };
  const limit = limitsOf(plan).find((l) => l.key === 'conversions')!;
  const days = p.days.slice(-SHOWN_DAYS);
  const miss = p.nearMisses.find((n) => n.part === missed);
  return (
    <section aria-label="What it takes" className="border-t border-rule pt-3" aria-live="polite">
      <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
        <p>
          <b className="text-[1.5rem] figures">{count(p.messages)}</b>{' '}
          <span className="text-ink-2">
            of {count(p.ofSource)} <Rich text={sourceWords(definition)} />
            {p.ofSource === 0 ? '' : ` (${percent(p.messages / p.ofSource)})`}, by {plural(p.persons, 'person', 'persons')} of{' '}
            {count(p.personsOfSource)}
          </span>
        </p>
        {p.messages > 0 ? (
          <Bars
            bars={days.map((d) => ({ value: d.messages, title: `${dayText(d.at, timeZone)} ${count(d.messages)}` }))}
            label="Messages of each day"
            width={6}
            running
          />
        ) : null}
      </div>
      {p.before > 0 ? <p className="text-sm text-ink-2">{plural(p.before, 'message')} more are dated before these days.</p> : null}
      {conversion ? (
        <p className="mt-1 text-sm">
          As a conversion it counts {count(p.messages)}; a mark on the whole source would count {count(p.ofSource)}. It is one of{' '}
          {limit.used} conversions; {limit.limit} are allowed.
        </p>
      ) : null}
      <div className="mt-3 grid grid-cols-2 gap-x-8 gap-y-3">
        <div className="min-w-0">
          <Odd values={pages.unlike} wire />
          <Odd values={texts.unlike} />
          {p.byText.length > 0 ? (
            <>
              <Head>What the elements say</Head>
              <Values values={texts.others} more={texts.more} />
            </>
          ) : null}
          <Head>Pages and screens</Head>
          {p.byPage.length === 0 ? <p className="text-ink-2">No message of it carries one.</p> : null}
          <Values values={pages.others} more={pages.more} wire />
        </div>
        <div className="min-w-0">
          <Head>Sources and releases</Head>
          <p className="flex flex-wrap gap-x-4">
            {p.bySource.map((s) => {
              const source = plan.source[s.value];
              return (
                <span key={s.value} className="inline-flex items-center gap-1.5">
                  {source ? <SourceMark letter={source.mark} kind={source.kind} name={source.name} /> : s.value}
                  <span className="figures">{count(s.messages)}</span>
                </span>
              );
            })}
          </p>
          <p className="mb-2 text-sm text-ink-2">
            {p.byRelease
              .slice(0, 6)
              .map((r) => `${r.value || 'no release'} ${count(r.messages)}`)
              .join(', ')}
          </p>
          {p.nearMisses.length > 0 ? (
            <>
              <Head>Just missed, by one condition</Head>
              <ul className="mb-2">
                {p.nearMisses.map((n) => (
                  <li key={n.part} className="flex gap-2 border-b border-dotted border-rule">
                    <button
                      type="button"
                      aria-expanded={missed === n.part}
                      className="min-h-[24px] min-w-0 truncate text-left underline decoration-dotted hover:text-accent"
                      onClick={() => setMissed(missed === n.part ? undefined : n.part)}
                    >
                      without <Rich text={partText(n.part)} />
                    </button>
                    <span className="ml-auto text-sm whitespace-nowrap figures">{count(n.messages)} more</span>
                  </li>
                ))}
              </ul>
            </>
          ) : null}
          {p.shared.length > 0 ? (
            <>
              <Head>Taken by other definitions too</Head>
              <ul>
                {p.shared.slice(0, SHOWN_PAGES).map((s) => (
                  <SharedRow key={s.id} shared={s} messages={p.messages} />
                ))}
              </ul>
            </>
          ) : null}
        </div>
      </div>
      <div className="mt-2">
        <Head>{miss ? 'Messages that just miss' : 'Newest messages, as it has them'}</Head>
        <Samples plan={plan} seqs={miss ? miss.examples : p.examples} changes={miss ? [] : definition.changes} />
      </div>
    </section>
  );
};

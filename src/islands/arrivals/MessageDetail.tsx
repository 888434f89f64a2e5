/** One message: its findings, its properties beside the plan's words for them, its identifiers. */
import { planStampOf, stampText } from '../../core/arrival/plan-stamp';
import type { LiveMessage } from '../../core/arrival/live-message';
import { propertiesOf, settingsOf } from '../../core/plan/plan';
import { eventNamed } from '../../core/plan/plan-index';
import { count, instantText, timeText } from '../../ui/format';
import { MarginPart } from '../../ui/Frame';
import { Rich } from '../../ui/Rich';
import { useDraft, usePlan, useWorkplace } from '../workplace/context';
import { messageTitle } from './kind-text';
import { places } from '../workplace/place';
import { useView } from './use-view';

const record = (v: unknown): Record<string, unknown> => (typeof v === 'object' && v !== null ? (v as Record<string, unknown>) : {});
const receivedText = (ms: number): string => (ms < 0 ? `received ${count(-ms)} ms before that` : `received ${count(ms)} ms later`);
const EDGE = { stop: 'border-stop', caution: 'border-caution-fill', note: 'border-ink-2' } as const;

const Values = ({ values, words }: { values: Record<string, unknown>; words?: ReadonlyMap<string, string> }) => (
  <dl>
    {Object.entries(values).map(([name, value]) => (
      <div key={name} className="border-b border-dotted border-rule py-1" title={words?.get(name)}>
        <dt className="wire text-ink-2">{name}</dt>
        <dd className="wire font-medium break-all">{JSON.stringify(value)}</dd>
      </div>
    ))}
  </dl>
);

/** The user properties of the message's person at that moment and now, with what the message itself set. */
const ThenAndNow = ({ seq, set }: { seq: number; set: Record<string, unknown> }) => {
  const { data } = useView('GET /api/at-message', { seq });
  if (!data || data.length === 0)
    return Object.keys(set).length === 0 ? null : (
      <MarginPart title="User properties set">
        <Values values={set} />
      </MarginPart>
    );
  return (
    <MarginPart title="User properties then and now">
      <table className="w-full text-sm">
        <tbody>
          {data.map((p) => (
            <tr key={p.name} className="border-b border-dotted border-rule align-top">
              <th scope="row" className="py-1 pr-2 text-left wire font-normal text-ink-2">
                {p.name}
                {p.name in set ? <span className="block font-sans">set by this message</span> : null}
              </th>
              <td className="py-1 text-right wire">
                {p.then === undefined ? <span className="font-sans text-ink-2">not set yet</span> : String(p.then)}
                {p.differs ? <b className="block text-caution">now {String(p.now)}</b> : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </MarginPart>
  );
};

export const MessageDetail = ({ message }: { message: LiveMessage }) => {
  const plan = usePlan();
  const { go } = useWorkplace();
  const { server } = useDraft();
  const { timeZone } = settingsOf(plan);
  const found = eventNamed(plan, message.name);
  const words = new Map(found ? propertiesOf(plan, found[1]).map((p) => [p.property.name, p.property.description]) : []);
  const properties = record(message.body['properties']);
  const userProperties = record(message.body['user_properties']);
  const automatic = new Set(plan.source[message.sourceId]?.automaticProperties);
  const isAdded = ([name]: [string, unknown]): boolean => automatic.has(name) && !words.has(name);
  const own = Object.fromEntries(Object.entries(properties).filter((e) => !isAdded(e)));
  const added = Object.fromEntries(Object.entries(properties).filter(isAdded));
  const ids = Object.entries(record(message.body['ids']));
  const carried = (['marks', 'consent', 'environment', 'page'] as const).flatMap((name): [string, string][] => {
    const v = message.body[name];
    const text = Array.isArray(v) ? v.join(', ') : typeof v === 'string' ? v : '';
    return text === '' ? [] : [[name, text]];
  });
  const stamp = planStampOf(message.body);
  if (stamp) carried.push(['plan', stampText(stamp, server?.published)]);
  const first = ids.find(([kind]) => kind === 'user') ?? ids[0];
  return (
    <>
      <p className="pr-4 wire text-[1.05rem] font-semibold break-words">{messageTitle(message)}</p>
      <p className="mb-3 text-sm text-ink-2" title={instantText(message.occurredAt)}>
        {plan.source[message.sourceId]?.name ?? message.sourceId} {message.release}, at {timeText(message.occurredAt, timeZone)},{' '}
        {receivedText(message.receivedAt - message.occurredAt)}
      </p>
      {carried.length > 0 ? (
        <MarginPart title="Context">
          {carried.map(([name, value]) => (
            <p key={name} className="text-sm">
              <span className="text-ink-2">{name}</span> {value}
            </p>
          ))}
        </MarginPart>
      ) : null}
      <MarginPart title={message.findings.length === 0 ? 'Verdict' : `Findings (${message.findings.length})`}>
        {message.findings.length === 0 ? <p className="text-clear">Conforms to the published plan.</p> : null}
        {message.findings.map((f) => (
          <div key={f.sentence} className={`mb-2 border-l-4 pl-2.5 ${EDGE[f.severity]}`}>
            <p>
              <Rich text={f.sentence} />
            </p>
            <p className="text-sm text-ink-2">{f.cause}</p>
            <p className="text-sm">
              <b>Fix:</b> <Rich text={f.fix} />
            </p>
          </div>
        ))}
      </MarginPart>
      {found ? (
        <MarginPart title="Plan">
          <p className="text-sm">{found[1].trigger}</p>
          <button
            type="button"
            className="min-h-[24px] text-sm text-accent underline decoration-dotted"
            onClick={() => go(...places.row('event', found[0]))}
          >
            Open in the plan
          </button>
        </MarginPart>
      ) : null}
      <MarginPart title="Identifiers">
        <Values values={record(message.body['ids'])} />
        {first ? (
          <button
            type="button"
            className="mt-1 min-h-[24px] text-sm text-accent underline decoration-dotted"
            onClick={() => go(...places.logbook({ kind: first[0], value: String(first[1]) }))}
          >
            Logbook of this person
          </button>
        ) : null}
      </MarginPart>
      <ThenAndNow seq={message.seq} set={userProperties} />
      {Object.keys(own).length > 0 ? (
        <MarginPart title="Properties">
          <Values values={own} words={words} />
        </MarginPart>
      ) : null}
      {Object.keys(added).length > 0 ? (
        <MarginPart title="Added by the source’s library">
          <Values values={added} />
        </MarginPart>
      ) : null}
    </>
  );
};

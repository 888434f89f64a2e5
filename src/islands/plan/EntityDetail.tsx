/** One entity of the plan on the bench, all of its fields; for an event its properties, a sample message and its milestones. */
import { ArrowLeft } from 'lucide-react';
import type { Sheet } from '../../core/plan/fields/sheets';
import type { Field } from '../../core/plan/fields/field';
import { sampleMessage } from '../../core/formats/ticket';
import { labelOf, type Id, type Plan } from '../../core/plan/plan';
import { plannedPropertiesOf } from '../../core/plan/plan-index';
import { compatibleUnits, convert } from '../../core/plan/unit';
import { isNumeric } from '../../core/plan/property-type';
import { Button } from '../../ui/Button';
import { decimal } from '../../ui/format';
import { Empty } from '../../ui/States';
import { useWorkplace } from '../workplace/context';
import { FieldRow } from './FieldRow';
import { EventSources } from './EventSources';
import { useWriting } from './use-writing';
import { places } from '../workplace/place';
import { refOfProperty, refText } from '../../core/plan/property-path';

const EventProperties = ({ plan, id }: { plan: Plan; id: Id }) => {
  const { go } = useWorkplace();
  const planned = plannedPropertiesOf(plan, id);
  const event = plan.event[id]!;
  const source = plan.source[event.sources[0]?.sourceId ?? ''];
  return (
    <>
      <h3 className="mt-6 mb-1 text-[1.05rem] font-bold">Properties</h3>
      {planned.length === 0 ? (
        <p className="text-ink-2">None.</p>
      ) : (
        <table className="w-full border-collapse">
          <thead>
            <tr className="text-left text-sm text-ink-2">
              <th className="pb-1 font-medium">name</th>
              <th className="pb-1 font-medium">type</th>
              <th className="pb-1 font-medium">unit</th>
              <th className="pb-1 font-medium">required</th>
              <th className="pb-1 font-medium">from</th>
              <th className="pb-1 font-medium">samples</th>
            </tr>
          </thead>
          <tbody>
            {planned.map((p) => (
              <tr key={p.id} className="border-t border-rule">
                <td>
                  <button
                    type="button"
                    className="min-h-[26px] wire underline decoration-dotted hover:text-accent"
                    onClick={() => go(...places.opened('property', p.id))}
                  >
                    {refText(refOfProperty(p.property))}
                  </button>
                </td>
                <td>{p.property.type}</td>
                <td>{p.property.unit}</td>
                <td>{p.required ? 'yes' : 'no'}</td>
                <td className="text-ink-2">{p.setId === undefined ? 'its own' : `set ${plan.sharedSet[p.setId]?.name ?? ''}`}</td>
                <td className="max-w-[220px] truncate wire">{p.property.samples.join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h3 className="mt-6 mb-1 text-[1.05rem] font-bold">A sample message</h3>
      <pre className="overflow-x-auto border border-rule bg-ground p-3 wire text-[0.85rem]">
        {JSON.stringify(sampleMessage(plan, event, source), null, 2)}
      </pre>
    </>
  );
};

/** What the samples are in the other units of the dimension. */
const Conversions = ({ plan, id }: { plan: Plan; id: Id }) => {
  const p = plan.property[id];
  const sample = p?.samples.map(Number).find((n) => Number.isFinite(n) && n !== 0);
  const others = p && isNumeric(p.type) ? compatibleUnits(p.unit) : [];
  if (!p || sample === undefined || others.length === 0) return null;
  return (
    <p className="mt-4 text-ink-2">
      <b className="text-ink">
        {decimal(sample)} {p.unit}
      </b>{' '}
      is{' '}
      {others
        .map(
          (u) =>
            `${Number(convert(sample, p.unit, u.symbol)!.toPrecision(4)).toLocaleString('en-GB', { maximumFractionDigits: 6 })} ${u.symbol}`,
        )
        .join(', ')}
      . Units of another dimension are never converted.
    </p>
  );
};

/** Sources have a table of their own here. */
const hasNoTable = (f: Field): boolean => f.key !== 'sources';

export const EntityDetail = ({ plan, sheet, id }: { plan: Plan; sheet: Sheet; id: Id }) => {
  const { go } = useWorkplace();
  const how = useWriting();
  const { kind } = sheet;
  if (!kind || !plan[kind][id])
    return <Empty title={`This ${sheet.one} no longer exists.`}>It was removed, or the address belongs to another plan.</Empty>;
  return (
    <div className="max-w-[900px] px-7 py-4">
      <Button look="quiet" className="-ml-2 text-sm" onClick={() => go(...places.row(sheet.id, id))}>
        <ArrowLeft size={14} /> {sheet.title}
      </Button>
      <h2 className="mt-1 mb-3 pr-8 wire text-[1.35rem] font-bold break-words">{labelOf(kind, plan[kind][id])}</h2>
      <div className="grid grid-cols-2 gap-x-5 gap-y-2.5">
        {sheet.fields.filter(hasNoTable).map((f) => (
          <FieldRow key={f.key} plan={plan} field={f} id={id} how={how} />
        ))}
      </div>
      {kind === 'property' ? <Conversions plan={plan} id={id} /> : null}
      {kind === 'event' ? <EventSources plan={plan} id={id} /> : null}
      {kind === 'event' ? <EventProperties plan={plan} id={id} /> : null}
    </div>
  );
};

/** What models in other languages are made from: one JSON Schema, a definition for each event. */
import { propertiesOf, type Id, type Plan } from '../../plan/plan';
import { isNumeric } from '../../plan/property-type';
import { standingIn, withOuters } from '../../plan/outers';
import { identifiers } from './identifier';
import { sentEvents } from '../message-schema';

type Json = Record<string, unknown>;

/** The schema of a model, without what no type can say: patterns, ranges, formats.
 *  Shape: titles are names that are legal and unlike each other; properties keep their wire names.
 */
export const modelSchemas = (plan: Plan, sourceId?: Id): readonly { readonly name: string; readonly schema: string }[] => {
  const events = sentEvents(plan)
    .filter(([, e]) => sourceId === undefined || e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired'))
    .map(([, e]) => e)
    .sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
    .filter((e, i, all) => i === 0 || all[i - 1]!.name !== e.name);
  const names = identifiers(events.map((e) => e.name));
  return events.map((e) => {
    const planned = withOuters(propertiesOf(plan, e).filter((p) => !p.property.retired));
    const scalar = (type: string, allowed: readonly string[]): Json =>
      type === 'timestamp'
        ? { type: 'string' }
        : type === 'string' && allowed.length > 0
          ? { type, enum: [...new Set(allowed)] }
          : { type };
    const objectAt = (path: readonly string[]): Json => {
      const own = standingIn(planned, path).filter((p) => p.property.name !== '');
      return {
        type: 'object',
        additionalProperties: false,
        properties: Object.fromEntries(
          own.map(({ property: p }) => {
            const at = [...path, p.name];
            const item = p.type.replace('list of ', '');
            const about = [p.description, p.unit === '' ? '' : `Unit: ${p.unit}.`].filter(Boolean).join(' ');
            const value =
              p.type === 'object' && standingIn(planned, at).length > 0
                ? objectAt(at)
                : item === p.type
                  ? scalar(p.type, isNumeric(p.type) ? [] : p.allowed)
                  : { type: 'array', items: scalar(item, p.allowed) };
            return [p.name, about === '' ? value : { ...value, description: about }];
          }),
        ),
        required: own.filter((p) => p.required).map((p) => p.property.name),
      };
    };
    const about = [e.description, e.trigger === '' ? '' : `Trigger: ${e.trigger}`].filter(Boolean).join(' ');
    const name = names.get(e.name)!.large;
    return { name, schema: JSON.stringify({ ...objectAt([]), title: name, ...(about === '' ? {} : { description: about }) }) };
  });
};

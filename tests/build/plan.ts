/** Small plans for tests. */
import { blank, DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../src/core/plan/edit';
import {
  emptyPlan,
  type BodyOf,
  type Id,
  type Kind,
  type Plan,
  type PlanEvent,
  type Property,
  type Question,
  type Settings,
} from '../../src/core/plan/plan';

export const create = <K extends Kind>(kind: K, id: Id, fields: Partial<BodyOf[K]>): Edit => ({
  op: 'create',
  kind,
  id,
  body: blank(kind, fields),
});

export const planWith = (edits: readonly Edit[], settings: Partial<Settings> = {}): Plan => {
  const r = applyEdits(emptyPlan({ ...DEFAULT_SETTINGS, ...settings }), edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

export const event = (id: Id, fields: Partial<PlanEvent>): Edit => create('event', id, { trigger: 'It has happened.', ...fields });
export const property = (id: Id, fields: Partial<Property>): Edit => create('property', id, { name: id, ...fields });
export const question = (id: Id, fields: Partial<Question>): Edit => create('question', id, { text: id, ...fields });

/** Freezes a value through and through, so that a computation that changes its input fails. */
export const deepFreeze = <T>(value: T): T => {
  if (typeof value === 'object' && value !== null && !Object.isFrozen(value)) {
    Object.freeze(value);
    for (const v of Object.values(value)) deepFreeze(v);
  }
  return value;
};

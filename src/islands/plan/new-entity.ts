/** What a new row starts with. */
import { freeMark, NEW_SOURCE } from '../../core/plan/source-mark';
import { blank } from '../../core/plan/defaults';
import { entries, type BodyOf, type Kind, type Plan } from '../../core/plan/plan';

export const newEntity = (plan: Plan, kind: Exclude<Kind, 'settings' | 'question'>): BodyOf[typeof kind] => {
  switch (kind) {
    case 'event':
      return blank('event', { name: 'New Event', order: Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order)) + 1 });
    case 'property':
      return blank('property', { name: 'new_property' });
    case 'userProperty':
      return blank('userProperty', { name: 'new_user_property' });
    case 'sharedSet':
      return blank('sharedSet', { name: 'new set' });
    case 'source':
      return blank('source', { name: NEW_SOURCE, mark: freeMark(plan, NEW_SOURCE) });
    case 'identifierKind':
      return blank('identifierKind', { name: 'new_kind' });
    case 'definition':
      return blank('definition', { name: 'New Definition' });
    case 'trial':
      return blank('trial', { name: 'New trial' });
  }
};

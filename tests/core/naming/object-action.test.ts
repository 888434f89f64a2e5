import { expect, test } from 'vitest';
import { keepsCase, toCase } from '../../../src/core/naming/case-style';
import { objectAction } from '../../../src/core/naming/object-action';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';

test.each([
  ['Loan Started', ['loan'], ['started'], 'object then action'],
  ['Viewed Tool', ['tool'], ['viewed'], 'action then object'],
  ['Signed In', [], ['signed', 'in'], 'object then action'],
  ['Late Fee Charged', ['late', 'fee'], ['charged'], 'object then action'],
])('%s', (name, object, action, order) => {
  expect(objectAction(name, DEFAULT_SETTINGS.naming)).toEqual({ object, action, order });
});

test('an agreed action wins over the guess', () => {
  expect(objectAction('Parcel Onboarded', { ...DEFAULT_SETTINGS.naming, actions: ['onboarded'] })).toMatchObject({ action: ['onboarded'] });
});

test('names in other scripts keep their letters', () => {
  expect(toCase('werkzeug_angesehen', 'Title Case')).toBe('Werkzeug Angesehen');
  expect(toCase('Élan vitalÉté', 'snake_case')).toBe('élan_vital_été');
  expect(keepsCase('工具 浏览', 'Title Case')).toBe(true);
});

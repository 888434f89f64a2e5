/** All sheets of the plan: what is edited as rows, and the fields of each. */
import { DEFINITION_SHEET } from './definition-sheet';
import { SETTING_SHEETS } from './setting-sheets';
import { ENTITY_SHEETS, type Sheet } from './sheets';

export type { Sheet };

export const SHEETS: readonly Sheet[] = [...ENTITY_SHEETS, DEFINITION_SHEET, ...SETTING_SHEETS];

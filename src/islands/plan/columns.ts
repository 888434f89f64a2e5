/** The ledger's columns for fields of a plan. */
import type { Field } from '../../core/plan/fields/field';
import type { Sheet } from '../../core/plan/fields/sheets';
import type { Plan } from '../../core/plan/plan';
import type { Column } from '../../ui/ledger-model';

export const columnsOf = (plan: Plan, sheet: Sheet, fields: readonly Field[]): Column[] =>
  fields.map((f): Column => {
    let options: readonly string[] | undefined;
    return {
      key: f.key,
      title: f.title,
      width: f.width,
      ...(f.wire ? { wire: true } : {}),
      editable: f.write !== undefined,
      read: (id) => f.read(plan, id),
      editorOf: (id) => {
        const own = f.key === 'value' ? sheet.editorOf : undefined;
        return own ? own(id) : { editor: f.editor, options: (options ??= f.options?.(plan) ?? []) };
      },
    };
  });

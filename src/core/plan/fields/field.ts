/** Fields: how a cell of the plan reads as text, and which edits a text in it means. One definition serves the ledger, pasting and import. */
import { setField, type Edit } from '../edit';
import type { BodyOf, Id, Kind, NamingRules, Plan } from '../plan';
import { joinList, splitList } from './list-text';

export const EDITORS = ['text', 'long', 'choice', 'list', 'number', 'flag'] as const;
export type Editor = (typeof EDITORS)[number];

/** The words of a name that are its object and its action; `undefined` where they can't be told. */
export type ReadName = (
  name: string,
  rules: NamingRules,
) => { readonly object: readonly string[]; readonly action: readonly string[] } | undefined;

/** What writing needs beside the plan. */
export interface Writing {
  readonly newId: () => Id;
  /** Whether the entity was handed out, so that its name is remembered as a former one. */
  readonly keepsFormer: (plan: Plan, kind: Kind, id: Id) => boolean;
  /** UTC epoch ms. */
  readonly now: number;
  /** What a name says of its object and action (naming/object-action.ts, which brings a list of verbs along); left out where nothing is to be read
   *  from it.
   */
  readonly partsOf?: ReadName | undefined;
}

/** Edits, or why the text is refused. */
export type Written = readonly Edit[] | string;

export interface Field {
  readonly key: string;
  readonly title: string;
  /** Width in px. */
  readonly width: number;
  /** The value goes over the wire. */
  readonly wire?: boolean;
  readonly editor: Editor;
  /** Not shown unless it is chosen. */
  readonly hidden?: boolean;
  /** A hidden one is shown all the same in a plan that has use for it. */
  readonly shownWhen?: (plan: Plan) => boolean;
  readonly options?: (plan: Plan) => readonly string[];
  readonly read: (plan: Plan, id: Id) => string;
  /** What is to be known before it is changed. */
  readonly hint?: (plan: Plan, id: Id) => string | undefined;
  /** `undefined`: the cell is only read. */
  readonly write: ((plan: Plan, id: Id, text: string, how: Writing) => Written) | undefined;
}

type Look = Pick<Field, 'title' | 'width'> & Partial<Pick<Field, 'wire' | 'hidden' | 'options'>>;

export const some = (...edits: readonly (Edit | undefined)[]): Edit[] => edits.filter((e) => e !== undefined);

/** The fields of a kind, made from short descriptions. `F` is a field of its body. */
export const fieldsOf = <K extends Kind>(kind: K) => {
  type Body = BodyOf[K];
  const valueOf = <F extends keyof Body & string>(plan: Plan, id: Id, key: F): Body[F] | undefined => plan[kind][id]?.[key];
  const set = <F extends keyof Body & string>(plan: Plan, id: Id, key: F, value: Body[F] | undefined): Edit[] =>
    some(setField(plan, kind, id, key, value));
  return {
    /** `refuses` says what is wrong with a text, if anything is. */
    text: <F extends keyof Body & string>(
      key: F,
      { refuses, ...look }: Look & { long?: boolean; trim?: boolean; refuses?: (text: string) => string | undefined },
    ): Field => ({
      key,
      ...look,
      editor: look.long ? 'long' : 'text',
      read: (plan, id) => (valueOf(plan, id, key) as string | undefined) ?? '',
      write: (plan, id, text) => {
        const value = look.trim === false ? text : text.trim();
        return refuses?.(value) ?? set(plan, id, key, value as Body[F]);
      },
    }),
    choice: <F extends keyof Body & string>(key: F, values: readonly string[], what: string, look: Look): Field => ({
      key,
      ...look,
      editor: 'choice',
      options: () => values.filter((v) => v !== ''),
      read: (plan, id) => (valueOf(plan, id, key) as string | undefined) ?? '',
      write: (plan, id, text) => {
        const wanted = text.trim().toLowerCase();
        const found = values.find((v) => v.toLowerCase() === wanted);
        if (found === undefined) return `“${text}” is not ${what}; choose ${values.filter((v) => v !== '').join(', ')}.`;
        return set(plan, id, key, found as Body[F]);
      },
    }),
    list: <F extends keyof Body & string>(key: F, look: Look): Field => ({
      key,
      ...look,
      editor: 'list',
      read: (plan, id) => joinList((valueOf(plan, id, key) as readonly string[] | undefined) ?? []),
      write: (plan, id, text) => {
        const items = splitList(text);
        return items.length === 0 && valueOf(plan, id, key) === undefined ? [] : set(plan, id, key, items as Body[F]);
      },
    }),
    /** A number that may be left out. */
    number: <F extends keyof Body & string>(key: F, look: Look & { whole?: boolean; min?: number; needed?: boolean }): Field => ({
      key,
      ...look,
      editor: 'number',
      read: (plan, id) => {
        const n = valueOf(plan, id, key) as number | undefined;
        return n === undefined ? '' : String(n);
      },
      write: (plan, id, text) => {
        const trimmed = text.replaceAll(/[\s\u00a0]/g, '');
        if (trimmed === '') return look.needed ? 'Enter a number.' : set(plan, id, key, undefined);
        const n = Number(trimmed);
        if (!Number.isFinite(n)) return `“${text}” is not a number.`;
        if (look.whole && !Number.isInteger(n)) return `“${text}” is not a whole number.`;
        if (look.min !== undefined && n < look.min) return `At least ${look.min}.`;
        return set(plan, id, key, n as Body[F]);
      },
    }),
    flag: <F extends keyof Body & string>(key: F, look: Look): Field => ({
      key,
      ...look,
      editor: 'flag',
      options: () => ['yes', 'no'],
      read: (plan, id) => (valueOf(plan, id, key) ? 'yes' : 'no'),
      write: (plan, id, text) => {
        const flag = flagOf(text);
        return flag === undefined ? `“${text}” is neither yes nor no.` : set(plan, id, key, flag as Body[F]);
      },
    }),
  };
};

const YES = new Set(['yes', 'true', '1', 'x', 'y']);
const NO = new Set(['no', 'false', '0', '', 'n', '-']);

/** Yes or no from what people write in sheets; `undefined` for anything else. */
export const flagOf = (text: string): boolean | undefined => {
  const t = text.trim().toLowerCase();
  return YES.has(t) ? true : NO.has(t) ? false : undefined;
};

/** Names looked up to ids, or the sentence that says which is unknown. */
export const idsByName = (names: readonly string[], ids: ReadonlyMap<string, Id>, what: string): Id[] | string => {
  const unknown = names.find((n) => !ids.has(n));
  return unknown === undefined ? names.map((n) => ids.get(n)!) : `“${unknown}” is not ${what} of this plan.`;
};

export const readOnly = (key: string, look: Look, read: Field['read']): Field => ({ key, ...look, editor: 'text', read, write: undefined });

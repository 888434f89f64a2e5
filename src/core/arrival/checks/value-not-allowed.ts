import { nearest } from '../../naming/likeness';
import type { Property } from '../../plan/plan';
import { defineValueCheck, shown } from '../check';
import { personalDataIn, type PersonalData } from '../personal-data';
import { aOrAn } from './personal-data';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface ValueNotAllowed {
  readonly property: PropertyRef;
  readonly value: string;
  readonly nearest: string | undefined;
  /** What kind of personal data it is, where it is some: that is never proposed for the list. */
  readonly personal?: PersonalData;
}

export const valueNotAllowed = defineValueCheck({
  id: 'value-not-allowed',
  on: 'value',
  title: 'Value not on the list',
  why: 'A value off the list makes a group of its own, and the group that it belongs to too small.',
  example: { wrong: '`"branch": "quayside"`, where the list has Quayside', right: '`"branch": "Quayside"`' },
  severity: 'caution',
  fixer: (p: ValueNotAllowed) => (p.nearest === undefined && p.personal === undefined ? 'plan' : 'source'),
  expected: (p: ValueNotAllowed) => (p.nearest === undefined ? 'a value of the list' : `“${p.nearest}”`),
  received: (p: ValueNotAllowed) => p.value,
  message: (p: ValueNotAllowed) =>
    `came with \`${refText(p.property)}\` = ${p.value}, which is not an allowed value${p.nearest === undefined ? '' : `; the nearest is “${p.nearest}”`}`,
  cause: (p: ValueNotAllowed) =>
    p.personal !== undefined
      ? `The source sends ${aOrAn(p.personal)} where a value of the list belongs.`
      : p.nearest === undefined
        ? 'A new value came into use, and the plan was not told.'
        : 'The value is spelled differently, or is new.',
  fix: (p: ValueNotAllowed) =>
    p.personal !== undefined
      ? `Stop sending ${aOrAn(p.personal)} in \`${refText(p.property)}\`; then erase what arrived.`
      : p.nearest === undefined
        ? `Add ${p.value} to the allowed values, or stop sending it.`
        : `Send “${p.nearest}”, or add ${p.value} to the allowed values.`,
  compile(property: Property) {
    if (property.allowed.length === 0) return undefined;
    const allowed = new Set(property.allowed);
    const report = (v: unknown): ValueNotAllowed => {
      const personal = typeof v === 'string' ? personalDataIn(v) : undefined;
      return {
        property: refOfProperty(property),
        value: shown(v),
        nearest: typeof v === 'string' && personal === undefined ? nearest(v, property.allowed) : undefined,
        ...(personal === undefined ? {} : { personal }),
      };
    };
    return (v) => {
      if (typeof v === 'string') return allowed.has(v) ? undefined : report(v);
      if (typeof v === 'number' || typeof v === 'boolean') return allowed.has(String(v)) ? undefined : report(v);
      if (!Array.isArray(v)) return undefined;
      const bad: unknown = v.find((x) => !allowed.has(String(x)));
      return bad === undefined ? undefined : report(bad);
    };
  },
});

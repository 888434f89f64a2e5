/** Which version of the plan a message was built from, as typed calls say it. */
import { isObject } from '../plan/property-path';

export interface PlanStamp {
  readonly version: number;
  readonly hash: string;
}

/** The stamp of a message; `undefined` where it has none, or one of another shape. */
export const planStampOf = (body: { readonly [field: string]: unknown }): PlanStamp | undefined => {
  const { plan } = body;
  if (!isObject(plan)) return undefined;
  const { version, hash } = plan;
  return typeof version === 'number' && Number.isInteger(version) && version >= 0 && typeof hash === 'string'
    ? { version, hash: hash.slice(0, 200) }
    : undefined;
};

/** In words, beside the version in force. */
export const stampText = (
  { version, hash }: PlanStamp,
  now: { readonly number: number; readonly contentHash: string } | null | undefined,
): string => {
  if (version === 0) return 'built from a draft';
  if (!now) return `built from version ${version}`;
  if (version === now.number)
    return hash === now.contentHash
      ? `built from version ${version}, the one in force`
      : `built from a version ${version} of another workspace`;
  return version < now.number
    ? `built from version ${version}; ${now.number} is in force`
    : `built from version ${version} of another workspace`;
};

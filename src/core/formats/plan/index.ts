/** The registry of formats in which a plan is given or taken. A file is of the first that recognises it; what none does is a sheet. */
import type { PlanFormat } from '../format';
import { asyncapi } from './asyncapi';
import { cloudevents } from './cloudevents';
import { csv } from './csv';
import { definitions } from './definitions';
import { eventSchema } from './event-schema';
import { eventSchemas } from './event-schemas';
import { json } from './json';
import { markdown } from './markdown';
import { names } from './names';
import { openapi } from './openapi';
import { planSchema } from './plan-schema';
import { typescript } from './typescript';
import { yaml } from './yaml';

export const FORMATS = [
  definitions,
  csv,
  json,
  yaml,
  markdown,
  names,
  typescript,
  eventSchemas,
  asyncapi,
  openapi,
  cloudevents,
  planSchema,
  eventSchema,
] as const;
export type FormatId = (typeof FORMATS)[number]['id'];

const all: readonly PlanFormat<FormatId>[] = FORMATS;

export const formatOf = (id: string): PlanFormat<FormatId> | undefined => all.find((f) => f.id === id);

/** The formats that can be written, and those that can be read. */
export const written = all.filter((f) => f.write !== undefined);
export const readable = all.filter((f) => f.read !== undefined);

export const recognised = (fileName: string, text: string): FormatId =>
  readable.find((f) => f.recognise?.(fileName, text.trimStart()))?.id ?? csv.id;

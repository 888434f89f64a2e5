/** The shape of any formula. */
import { z } from 'zod';
import { activePersonsSchema } from './active-persons/schema';
import { averagePerPersonSchema } from './average-per-person/schema';
import { conversionSchema } from './conversion/schema';
import { rateOfValueSchema } from './rate-of-a-value/schema';
import { retentionSchema } from './retention/schema';
import { shareWhoAlsoDidSchema } from './share-who-also-did/schema';
import { topValuesSchema } from './top-values/schema';
import { totalOfPropertySchema } from './total-of-a-property/schema';

export const formulaSchema = z.discriminatedUnion('type', [
  activePersonsSchema,
  conversionSchema,
  averagePerPersonSchema,
  retentionSchema,
  totalOfPropertySchema,
  topValuesSchema,
  shareWhoAlsoDidSchema,
  rateOfValueSchema,
]);

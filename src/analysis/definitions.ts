/** Definitions while they are written. */
import { definitionPreview } from '../core/api/definition-preview';
import { circleWith, definitionPreviewOf } from '../core/definitions/definition-preview';
import { personRulesOf } from '../core/identity/person-rules';
import { canonicalJson } from '../core/plan/content-hash';
import { problem } from '../server/answer';
import { serve } from '../server/serve';
import { draftScope } from './scope';

export const DEFINITION_VIEWS = [
  serve(definitionPreview, async ({ url, body: { id, definition } }) => {
    const { plan, persons } = await draftScope(url);
    const circle = circleWith(plan, id, definition);
    if (circle)
      return problem(
        409,
        'made of itself',
        `${circle.join(' is made of ')}: a definition cannot be made of itself. Choose another source.`,
      );
    return definitionPreviewOf(persons, plan, canonicalJson(personRulesOf(plan)), id, definition, Date.now());
  }),
];

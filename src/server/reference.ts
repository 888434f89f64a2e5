/** The description of the endpoints, for programs. */
import { openapi } from '../core/api/openapi-json';
import { openApiDocument } from '../core/api/openapi-document';
import { serve } from './serve';

export const REFERENCE = [serve(openapi, () => openApiDocument())];

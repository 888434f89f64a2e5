/** Who is speaking. Until there are accounts, people say themselves who they are. */
import { z } from 'zod';

export const author = z.string().trim().min(1).max(60).default('you');

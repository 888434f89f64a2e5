/** `GET /api/sign-offs`: Who signed a question off, and how its signal went */
import { z } from 'zod';
import type { SignOff } from '../clearance/sign-off';
import type { SignalSince } from '../clearance/sign-off-shown';
import type { Waiver } from '../clearance/waiver';
import { answer, endpoint } from './endpoint';

export interface Signed {
  /** Newest first; the first one may hold. */
  readonly signOffs: readonly SignOff[];
  /** In the order of time, of the last eight weeks. */
  readonly signals: readonly SignalSince[];
  /** Newest first; ended ones too. */
  readonly waivers: readonly Waiver[];
}

export const signOffs = endpoint({
  method: 'GET',
  path: '/api/sign-offs',
  title: 'Who signed a question off, and how its signal went',
  role: 'reader',
  query: z.object({ question: z.string().min(1).max(200) }),
  answer: answer<Signed>('Of one question.'),
});

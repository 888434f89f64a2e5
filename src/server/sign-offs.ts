/** Who signed a question off, and how its signal went. */
import { signOffs } from '../core/api/sign-offs';
import { DAY_MS } from '../core/time';
import { signalsSince, signOffsOf } from '../db/sign-off-store';
import { waiversOf } from '../db/waiver-store';
import { database } from './context';
import { serve } from './serve';

const SHOWN_MS = 57 * DAY_MS;

export const SIGN_OFFS = [
  serve(signOffs, async ({ query: { question } }) => ({
    signOffs: await signOffsOf(database(), question),
    signals: await signalsSince(database(), question, Date.now() - SHOWN_MS),
    waivers: await waiversOf(database(), question),
  })),
];

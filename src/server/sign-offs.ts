/** Who signed a question off, and how its signal went. */
import { signOffs } from '../core/api/sign-offs';
import { SIGNALS_SHOWN_MS, signalsSince, signOffsOf } from '../db/sign-off-store';
import { waiversOf } from '../db/waiver-store';
import { database } from './context';
import { serve } from './serve';

export const SIGN_OFFS = [
  serve(signOffs, async ({ query: { question } }) => ({
    signOffs: await signOffsOf(database(), question),
    signals: await signalsSince(database(), question, Date.now() - SIGNALS_SHOWN_MS),
    waivers: await waiversOf(database(), question),
  })),
];

/** Begins as soon as the script is there. */
import { takeOver } from './classic';

takeOver(globalThis as unknown as Parameters<typeof takeOver>[0]);

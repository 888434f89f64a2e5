/** The registry of gates, in the order in which they are passed. */
import { built } from './built';
import { complete } from './complete';
import { conforming } from './conforming';
import { fresh } from './fresh';
import { identified } from './identified';
import { planned } from './planned';
import { settled } from './settled';

export const GATES = [planned, built, settled, conforming, identified, complete, fresh] as const;

/** A finding on one message. */
import type { Finding } from '../findings/finding';
import type { messageChecks, valueChecks } from './checks/index';

export type ArrivalCode = (typeof valueChecks)[number]['id'] | (typeof messageChecks)[number]['id'];
export type MessageFinding = Finding<ArrivalCode, unknown>;

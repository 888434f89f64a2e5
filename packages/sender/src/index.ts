/** The sender of Signal Post: no dependencies, for browsers and Node.js. */
export { createSender, type AddOn, type Calls, type Checked, type More, type SenderOptions, type Sender } from './sender';
export type { Consent, Consents, PlanStamp, Value, Values, WireMessage } from './wire';
export { messageId } from './message-id';

/** Sends a webhook: signed, once, with an end to waiting, without following anybody elsewhere. */
import { request as plainRequest } from 'node:http';
import { request as secureRequest } from 'node:https';
import { isIP } from 'node:net';
import { HOW_TO_ALLOW, isPrivateAddress, nameRefused, NotAllowed, privateAllowed, publicLookup, type Resolver } from './addresses';
import { runtime } from './runtime';

const WAIT_MS = 10_000;
/** What a receiver says of itself is of no use beyond this. */
const READ_BYTES = 4000;

export interface Tried {
  readonly ok: boolean;
  readonly status: number | null;
  readonly error: string | null;
  /** What the receiver said, as far as it was read, where it took it. */
  readonly said?: string;
  /** What the receiver asked to wait, ms. */
  readonly waitMs?: number;
}

/** The stand-in receiver of this process. */
export const RECEIVER = '/stand-ins/receiver';
const isOwnReceiver = (url: URL): boolean => runtime.address !== '' && url.href === runtime.address + RECEIVER;

/** What is wrong with an address; `undefined` where nothing is. */
export const webhookRefused = (text: string): string | undefined => {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    return `“${text}” is not an address; write one such as https://example.org/alerts.`;
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:') return 'A webhook goes to an address that begins with https:// or http://.';
  if (url.username !== '' || url.password !== '') return 'A name and password in the address would be shown to everybody; the signature says who sent it.'; // prettier-ignore
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (isIP(host) !== 0 && isPrivateAddress(host) && !privateAllowed() && !isOwnReceiver(url)) return `${host} is in a private network. ${HOW_TO_ALLOW}`; // prettier-ignore
  return undefined;
};

/** What is wrong with an address that is to be kept: its name is looked up, too. What it stands for is looked at again whenever something is sent. */
export const webhookRefusedNow = async (text: string, resolve?: Resolver): Promise<string | undefined> => {
  const refused = webhookRefused(text);
  if (refused !== undefined || privateAllowed()) return refused;
  const url = new URL(text);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  return isIP(host) !== 0 || isOwnReceiver(url) ? undefined : nameRefused(host, resolve);
};

const retryAfterMs = (value: string | undefined): number | undefined => {
  const seconds = Number(value);
  return value !== undefined && Number.isFinite(seconds) && seconds > 0 ? seconds * 1000 : undefined;
};

/** Source: Standard Webhooks, headers `webhook-id`, `webhook-timestamp`, `webhook-signature`. A redirect is a failure: what was signed for one
 *  receiver is given to no other.
 */
export const sendWebhook = async (target: string, secret: string, id: string, body: string): Promise<Tried> => {
  const refused = webhookRefused(target);
  if (refused !== undefined) return { ok: false, status: null, error: refused };
  const { Webhook } = await import('standardwebhooks');
  const url = new URL(target);
  const at = new Date();
  const bytes = Buffer.from(body);
  return new Promise((done) => {
    const failed = (error: string): void => done({ ok: false, status: null, error });
    const anyWhere = privateAllowed() || isOwnReceiver(url);
    const sent = (url.protocol === 'https:' ? secureRequest : plainRequest)(
      url,
      {
        method: 'POST',
        agent: false,
        ...(anyWhere ? {} : { lookup: publicLookup }),
        headers: {
          'content-type': 'application/cloudevents+json; charset=utf-8',
          'content-length': bytes.length,
          'user-agent': 'signal-post',
          'webhook-id': id,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
          'webhook-signature': new Webhook(secret).sign(id, at, body),
        },
      },
      (response) => {
        const status = response.statusCode ?? 0;
        let said = '';
        response.setEncoding('utf8');
        response.on('data', (piece: string) => {
          if (said.length < READ_BYTES) said += piece;
          // Whoever talks without end has answered by its status.
          else response.destroy();
        });
        response.on('error', () => undefined);
        response.on('close', () => {
          clearTimeout(timer);
          if (status >= 200 && status < 300) return done({ ok: true, status, error: null, said });
          const why =
            status >= 300 && status < 400
              ? `It answered ${status}, a redirect to ${(response.headers.location ?? 'nowhere').slice(0, 200)}; enter that address if it is right.`
              : `It answered ${status}${said.trim() === '' ? '' : `: ${said.trim().slice(0, 200)}`}`;
          const waitMs = retryAfterMs(response.headers['retry-after']);
          done({ ok: false, status, error: why, ...(waitMs === undefined ? {} : { waitMs }) });
        });
      },
    );
    const timer = setTimeout(() => sent.destroy(new Error(`It did not answer within ${WAIT_MS / 1000} seconds.`)), WAIT_MS);
    sent.on('error', (e: NodeJS.ErrnoException) => {
      clearTimeout(timer);
      failed(e instanceof NotAllowed ? e.message : e.code === 'ECONNREFUSED' ? `Nobody listens at ${url.host}.` : e.code === 'ENOTFOUND' ? `There is no host ${url.hostname}.` : e.message); // prettier-ignore
    });
    sent.end(bytes);
  });
};

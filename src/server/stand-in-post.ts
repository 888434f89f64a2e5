/** The stand-in receiver of webhooks, and the stand-in mailbox: what came is kept and shown, so that alerts can be tried without anything else. */
import { keepPost, postOf, type PostKind, type StandInPost } from '../db/stand-in-post-store';
import { boundedText, problem, tooLarge } from './answer';
import { database } from './context';
import { log } from './log';
import { runtime } from './runtime';

/** Headers of a webhook that are kept. */
const KEPT = ['content-type', 'webhook-id', 'webhook-timestamp', 'webhook-signature'] as const;

export const receiveWebhook = async (request: Request): Promise<Response> => {
  const body = await boundedText(request);
  if (body === undefined) return tooLarge();
  if (request.headers.get('webhook-id') === null) return problem(400, 'no webhook', 'A webhook has the headers webhook-id, webhook-timestamp and webhook-signature.'); // prettier-ignore
  await keepPost(database(), 'webhook', Object.fromEntries(KEPT.map((h) => [h, request.headers.get(h) ?? ''])), body);
  // A tracker answers with the address of what it made.
  if (/"type"\s*:\s*"signal-post\.ticket"/.test(body))
    return Response.json(
      { url: `${new URL(request.url).origin}/stand-ins/receiver#${request.headers.get('webhook-id') ?? ''}` },
      { status: 201 },
    );
  return new Response(null, { status: 204 });
};

export const postReceived = (kind: PostKind): Promise<StandInPost[]> => postOf(database(), kind);

const MAX_MAIL = 1_000_000;

/** Takes mail for everybody on this machine, at the port that SIGNAL_POST_MAILBOX names; nothing leaves it. */
const openMailbox = async (port: number): Promise<void> => {
  // What only a demo needs is not loaded otherwise.
  const [{ SMTPServer }, { simpleParser }] = await Promise.all([import('smtp-server'), import('mailparser')]);
  const mailbox = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    size: MAX_MAIL,
    logger: false,
    onData: (stream, session, done) => {
      simpleParser(stream)
        .then(({ subject, from, to, text, messageId }) =>
          keepPost(
            database(),
            'mail',
            {
              subject: subject ?? '',
              from: from?.text ?? '',
              to:
                (Array.isArray(to) ? to : to ? [to] : []).map((t) => t.text).join(', ') ||
                session.envelope.rcptTo.map((r) => r.address).join(', '),
              id: messageId ?? '',
            },
            text ?? '',
          ),
        )
        .then(
          () => done(),
          (e: unknown) => done(e as Error),
        );
    },
  });
  mailbox.on('error', (e) => log.warn({ err: e }, 'the stand-in mailbox'));
  mailbox.listen(port, '127.0.0.1');
  runtime.beforeEnd(() => new Promise((closed) => mailbox.close(closed)));
};

const mailboxPort = (): number => Number(process.env['SIGNAL_POST_MAILBOX'] ?? '');
export const mailboxAsked = (): boolean => mailboxPort() > 0;

/** Where it is asked for. */
export const mailboxWhereAsked = (): void => {
  if (mailboxAsked())
    runtime.once('mailbox', () => void openMailbox(mailboxPort()).catch((e: unknown) => log.warn({ err: e }, 'the stand-in mailbox')));
};

/** The stand-in receiver: which webhooks came, newest first. Rendered by the server. */
import { instantText } from '../ui/format';

export interface Post {
  readonly id: number;
  readonly at: number;
  readonly head: Readonly<Record<string, string>>;
  readonly body: string;
}

const indented = (body: string): string => {
  try {
    return JSON.stringify(JSON.parse(body), null, 2);
  } catch {
    return body;
  }
};

export const Receiver = ({ post }: { post: readonly Post[] }) => (
  <main className="mx-auto max-w-3xl px-6 py-6">
    <h1 className="text-[1.5rem] font-bold">Stand-in receiver</h1>
    <p className="text-ink-2">Whatever is sent here by webhook is kept and shown, the newest 50. Reload the page to see what came since.</p>
    {post.length === 0 ? <p className="mt-4">Nothing has come yet.</p> : null}
    {post.map((p) => (
      <article key={p.id} className="mt-4 border-t border-rule pt-2">
        <p className="text-sm">
          <b>{instantText(p.at)}</b> <span className="wire text-ink-2">{p.head['webhook-id']}</span>
        </p>
        <p className="wire text-sm break-all text-ink-2">{p.head['webhook-signature']}</p>
        <pre className="mt-1 bg-wash p-2 wire text-sm break-words whitespace-pre-wrap">{indented(p.body)}</pre>
      </article>
    ))}
  </main>
);

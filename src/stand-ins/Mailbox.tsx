/** The stand-in mailbox: which mails came, newest first. Rendered by the server. */
import { instantText } from '../ui/format';
import type { Post } from './Receiver';

export const Mailbox = ({ post }: { post: readonly Post[] }) => (
  <main className="mx-auto max-w-3xl px-6 py-6">
    <h1 className="text-[1.5rem] font-bold">Stand-in mailbox</h1>
    <p className="text-ink-2">Mail of the demo ends here and nowhere else, the newest 50. Reload the page to see what came since.</p>
    {post.length === 0 ? <p className="mt-4">Nothing has come yet.</p> : null}
    {post.map((p) => (
      <article key={p.id} className="mt-4 border-t border-rule pt-2">
        <h2 className="font-bold">{p.head['subject']}</h2>
        <p className="text-sm text-ink-2">
          {instantText(p.at)}, from {p.head['from']} to {p.head['to']}
        </p>
        <pre className="mt-1 font-sans break-words whitespace-pre-wrap">{p.body}</pre>
      </article>
    ))}
  </main>
);

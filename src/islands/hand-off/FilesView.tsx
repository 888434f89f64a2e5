/** Code and files for engineers: typed calls, models, contracts, the sender and the build check. */
import { Download } from 'lucide-react';
import { useState } from 'react';
import { useDraft } from '../workplace/context';
import { SourceChoice } from '../workplace/SourceChoice';

const LANGUAGES = [
  { id: 'kotlin', title: 'Kotlin' },
  { id: 'swift', title: 'Swift' },
  { id: 'python', title: 'Python' },
  { id: 'java', title: 'Java' },
  { id: 'go', title: 'Go' },
  { id: 'csharp', title: 'C#' },
] as const;

const CONTRACTS = [
  { id: 'event-schemas', title: 'JSON Schema', note: 'properties of every event, in one file' },
  { id: 'asyncapi', title: 'AsyncAPI 3', note: 'a channel for each source, a message for each event' },
  { id: 'openapi', title: 'OpenAPI 3.1', note: 'what a request to the intake may hold' },
  { id: 'cloudevents', title: 'CloudEvents', note: 'JSON Schema of each type' },
  { id: 'json', title: 'Plan, JSON', note: 'for the build check' },
  { id: 'yaml', title: 'Plan, YAML', note: 'the same, easier to read' },
] as const;

const LINK = 'text-accent inline-flex min-h-[24px] items-center gap-1.5 font-semibold hover:underline';

const Row = ({ href, title, note }: { href: string; title: string; note: string }) => (
  <tr className="border-t border-rule">
    <td className="w-56 py-1 pr-4 whitespace-nowrap">
      <a className={LINK} href={href} download>
        <Download size={14} /> {title}
      </a>
    </td>
    <td className="py-1 text-ink-2">{note}</td>
  </tr>
);

export const FilesView = () => {
  const { server } = useDraft();
  const [source, setSource] = useState('');
  const published = server?.published;
  const version = published ? {} : { version: 'draft' };
  const of = (more: Readonly<Record<string, string>>): string => new URLSearchParams({ ...version, ...more }).toString();
  const own = source === '' ? {} : { source };
  const { origin } = location;
  return (
    <div className="max-w-[860px] px-7 py-5">
      <h1 className="text-[1.5rem] leading-tight font-bold">Code and files</h1>
      <p className="mb-3 text-ink-2">
        {published ? `Made from version ${published.number}.` : 'Nothing is published yet, so these are made from the draft.'} The same
        version always gives the same files; each says which one it is.
      </p>
      <h2 className="mt-3 font-bold">Typed calls</h2>
      <p className="text-sm text-ink-2">
        For <SourceChoice label="Source" className="px-1 py-0.5 text-ink" value={source} onChoose={setSource} />
      </p>
      <table className="mt-1 w-full">
        <tbody>
          <Row
            href={`/api/typed-calls?${of(own)}`}
            title="TypeScript"
            note="one function for each event; a misspelt name or a wrong unit does not compile"
          />
          <tr className="border-t border-rule">
            <td className="w-56 py-1 pr-4 align-top whitespace-nowrap">Models</td>
            <td className="flex flex-wrap gap-x-4 py-1">
              {LANGUAGES.map((l) => (
                <a key={l.id} className={LINK} href={`/api/models?${of({ language: l.id, ...own })}`} download>
                  {l.title}
                </a>
              ))}
            </td>
          </tr>
          <Row
            href="/downloads/signal-post-sender.tgz"
            title="Sender, as a package"
            note={`npm install ${origin}/downloads/signal-post-sender.tgz`}
          />
          <Row
            href="/downloads/signal-post-sender.js"
            title="Sender, one file"
            note="without dependencies, for browsers and Node.js; its types are in signal-post-sender.d.ts"
          />
          <Row
            href="/downloads/signal-post-page.js"
            title="What a page adds"
            note="interactions, views, page context, sampling; goes beside the sender"
          />
          <Row
            href="/downloads/signal-post-script.js"
            title="Sender as a script"
            note="for pages without modules; signal-post-stub.js keeps what happens until it is loaded"
          />
          <Row href="/downloads/signal-post-checker.js" title="Checker" note="for the sender’s debug mode: findings in the console" />
        </tbody>
      </table>
      <h2 className="mt-5 font-bold">Contracts</h2>
      <table className="w-full">
        <tbody>
          {CONTRACTS.map((c) => (
            <Row key={c.id} href={`/api/plan-file?${of({ format: c.id })}`} title={c.title} note={c.note} />
          ))}
        </tbody>
      </table>
      <h2 className="mt-5 font-bold">Build check</h2>
      <table className="w-full">
        <tbody>
          <Row
            href="/downloads/signal-post-check.tgz"
            title="As a package"
            note={`npm install --save-dev ${origin}/downloads/signal-post-check.tgz`}
          />
          <Row href="/downloads/signal-post-check.mjs" title="One file" note="started by node; needs no database" />
        </tbody>
      </table>
      <pre tabIndex={0} aria-label="Commands of the build check" className="mt-1 overflow-x-auto border border-rule bg-ground p-3 wire">
        {`npx signal-post-check lint ${origin}
npx signal-post-check events ${origin} captured.ndjson --source web
npx signal-post-check usage ${origin} src --watch
npx signal-post-check write ${origin} tracking-plan
npx signal-post-check propose tracking-plan --to ${origin}`}
      </pre>
    </div>
  );
};

/** Rules and checks to read: what each finds, how, and what it lets pass. Rendered by the server, without a script. */
import { parameterText, REFERENCE, type ReferenceKind, type ReferencePage } from '../../core/reference';
import { Rich } from '../../ui/Rich';

const PARTS: readonly { readonly kind: ReferenceKind; readonly title: string; readonly about: string }[] = [
  { kind: 'rule', title: 'Rules over the plan', about: 'They read the plan while it is edited; nothing has to arrive.' },
  { kind: 'check on a message', title: 'Checks on a message', about: 'They judge each message when it arrives, by the published plan.' },
  {
    kind: 'check over many messages',
    title: 'Checks over many messages',
    about: 'They compare messages with each other, over sources, releases, persons and days.',
  },
];

const One = ({ page }: { page: ReferencePage }) => (
  <section id={page.id} aria-label={page.title} className="scroll-mt-4 border-t border-rule py-3">
    <h3 className="flex flex-wrap items-baseline gap-x-3 font-bold">
      {page.title}
      <span className="text-sm font-normal text-ink-2">
        <span className="wire">{page.id}</span>, {page.severity} unless the workspace says otherwise
      </span>
    </h3>
    <p>{page.why}</p>
    <p className="mt-1 text-ink-2">{page.method}</p>
    <dl className="mt-1 grid grid-cols-[92px_1fr] gap-y-0.5">
      <dt className="font-semibold text-stop">Found</dt>
      <dd>
        <Rich text={page.example.wrong} />
      </dd>
      <dt className="font-semibold text-clear">Passes</dt>
      <dd>
        <Rich text={page.example.right} />
      </dd>
      {Object.entries(page.parameters).map(([name, p], i) => [
        <dt key={`${name} head`} className="font-semibold">
          {i === 0 ? 'Parameters' : ''}
        </dt>,
        <dd key={name}>{parameterText(p)}</dd>,
      ])}
    </dl>
  </section>
);

export const ChecksReference = () => (
  <main className="mx-auto max-w-4xl px-6 py-8">
    <h1 className="text-[1.75rem] leading-tight font-bold">Rules and checks</h1>
    <p className="mt-2 text-ink-2">
      What Signal Post looks at: {REFERENCE.length} rules and checks. Each can be switched off or given another severity in the plan, under
      Rules and Checks.
    </p>
    <nav aria-label="Contents" className="mt-3 columns-2 text-sm sm:columns-3">
      {REFERENCE.map((p) => (
        <a key={p.id} href={`#${p.id}`} className="block min-h-[24px] text-accent underline decoration-dotted">
          {p.title}
        </a>
      ))}
    </nav>
    {PARTS.map(({ kind, title, about }) => (
      <section key={kind} aria-label={title}>
        <h2 className="mt-8 text-lg font-bold">{title}</h2>
        <p className="mb-2 text-ink-2">{about}</p>
        {REFERENCE.filter((p) => p.kind === kind).map((p) => (
          <One key={p.id} page={p} />
        ))}
      </section>
    ))}
  </main>
);

/** The endpoints, for people: made on the server from their contracts, without a script. */
import { described } from '../../core/api/described';
import { AGE_MEANS, COMMON_ERRORS, type Endpoint } from '../../core/api/endpoint';
import { ENDPOINTS } from '../../core/api/index';

const ROLE: Readonly<Record<Endpoint['role'], string>> = {
  anyone: 'Anyone',
  reader: 'Reader',
  editor: 'Editor',
  publisher: 'Publisher',
  'write key': 'With a write key of a source',
  'read token': 'With a read token',
};

const PARTS = [
  { title: 'Plan, people and keys', answeredBy: 'web' },
  { title: 'Views over all messages', answeredBy: 'analysis' },
  { title: 'Intake', answeredBy: 'intake' },
] as const;

const idOf = (e: Endpoint): string => `${e.method} ${e.path}`.replace(/[^A-Za-z]+/g, '-').toLowerCase();

const One = ({ endpoint: e }: { endpoint: Endpoint }) => {
  const { parameters, body } = described(e);
  return (
    <section id={idOf(e)} className="border-t border-rule py-3">
      <h3 className="text-base font-bold">
        <span className="wire">
          {e.method} {e.path}
        </span>
      </h3>
      <p>
        {e.title}. <span className="text-ink-2">{ROLE[e.role]}.</span>
      </p>
      {parameters.length > 0 ? (
        <table className="mt-2">
          <caption className="sr-only">Parameters</caption>
          <tbody>
            {parameters.map((p) => (
              <tr key={p.name}>
                <th scope="row" className="pr-4 text-left align-top font-normal">
                  <span className="wire">{p.name}</span>
                </th>
                <td className="pr-4 align-top text-ink-2">{p.required ? 'required' : 'optional'}</td>
                <td>{p.description}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {body === undefined ? null : (
        <details className="mt-2">
          <summary>Body</summary>
          <pre tabIndex={0} className="overflow-x-auto bg-wash p-3 text-sm">
            {JSON.stringify(body, null, 2)}
          </pre>
        </details>
      )}
      {Object.keys(e.errors).length > 0 ? (
        <ul className="mt-2 text-ink-2">
          {Object.entries(e.errors).map(([status, when]) => (
            <li key={status}>
              <span className="wire">{status}</span> {when}
            </li>
          ))}
        </ul>
      ) : null}
    </section>
  );
};

export const ApiReference = () => (
  <main className="mx-auto max-w-4xl px-6 py-8">
    <h1 className="text-[1.75rem] leading-tight font-bold">Endpoints of Signal Post</h1>
    <p className="mt-2 text-ink-2">
      {ENDPOINTS.length} endpoints, as the interface uses them. For programs:{' '}
      <a className="text-accent underline" href="/api/openapi.json">
        the same as an OpenAPI 3.1 document
      </a>
      . Instants are milliseconds since 1970 in UTC, shares are from 0 to 1. An error has <span className="wire">error</span> and{' '}
      <span className="wire">detail</span>, which says what is wrong, where, and what to do next.
    </p>
    <ul className="mt-2 text-ink-2">
      {Object.entries(COMMON_ERRORS).map(([status, when]) => (
        <li key={status}>
          <span className="wire">{status}</span> {when}
        </li>
      ))}
    </ul>
    {PARTS.map(({ title, answeredBy }) => (
      <section key={title} aria-label={title}>
        <h2 className="mt-8 mb-2 text-lg font-bold">{title}</h2>
        {answeredBy === 'analysis' ? (
          <p className="mb-2 text-ink-2">
            Header <span className="wire">age</span>: {AGE_MEANS}
          </p>
        ) : null}
        {ENDPOINTS.filter((e) => e.answeredBy === answeredBy)
          .sort((a, b) => (a.path < b.path ? -1 : 1))
          .map((e) => (
            <One key={`${e.method} ${e.path}`} endpoint={e} />
          ))}
      </section>
    ))}
  </main>
);

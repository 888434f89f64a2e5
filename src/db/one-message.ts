/** Several statements to PostgreSQL as one message: it need not wait for this process between them. */
import type pg from 'pg';
import { copyOf } from './binary';

/** A statement with its parameters, numbered as usual. */
export interface Statement {
  readonly text: string;
  readonly values: readonly (string | number | null)[];
}

/** Text as a literal of SQL. Source: PostgreSQL documentation, 4.1.2.2, "String Constants With C-Style Escapes". */
export const literal = (text: string): string =>
  /['\\]/.test(text) ? ` E'${text.replaceAll('\\', '\\\\').replaceAll("'", "''")}'` : `'${text}'`;

/** A statement with its parameters written into it: the simple protocol, which alone takes several statements, has none. */
export const inlined = ({ text, values }: Statement): string =>
  text.replace(/\$(\d+)/g, (_, n: string) => {
    const v = values[Number(n) - 1];
    return typeof v === 'string' ? literal(v) : String(v ?? null);
  });

/** Texts as a literal of type text[]. Source: PostgreSQL documentation, 8.15.2, "Array Value Input". */
export const textArrayLiteral = (texts: readonly string[]): string => {
  const joined = texts.join('');
  const plain = !/["\\]/.test(joined);
  const elements = plain ? texts : texts.map((t) => t.replaceAll('\\', '\\\\').replaceAll('"', '\\"'));
  return `${literal(elements.length === 0 ? '{}' : `{"${elements.join('","')}"}`)}::text[]`;
};

/** Statements of which one is a binary COPY in; its rows go along without waiting to be asked for, which the protocol allows.
 *  Source: PostgreSQL documentation, 55.2.6 and 55.8: copy data that the server does not want, after an error, is ignored.
 */
class WithCopy implements pg.Submittable {
  constructor(
    private readonly text: string,
    private readonly rows: readonly Buffer[],
    private readonly done: (failed?: Error) => void,
  ) {}
  submit(connection: pg.Connection): void {
    const c = connection as unknown as { query(text: string): void; sendCopyFromChunk(b: Buffer): void; endCopyFrom(): void };
    c.query(this.text);
    for (const piece of copyOf(this.rows)) c.sendCopyFromChunk(piece);
    c.endCopyFrom();
  }
  handleCopyInResponse(): void {
    // The rows are on their way.
  }
  handleRowDescription(): void {
    // No statement here gives rows that anybody wants.
  }
  handleDataRow(): void {
    // As above.
  }
  handleCommandComplete(): void {
    // That the connection is ready again says that all is over.
  }
  handleError(e: Error): void {
    this.done(e);
  }
  handleReadyForQuery(): void {
    this.done();
  }
}

/** Sends statements of which one is `copy … from stdin (format binary)`, with its rows; resolves when all are done.
 *  Errors: rejects with what the database says, or with the loss of the connection.
 */
export const sendWithCopy = (client: pg.PoolClient, statements: readonly string[], rows: readonly Buffer[]): Promise<void> =>
  new Promise((resolve, reject) => {
    client.query(new WithCopy(statements.join(';\n'), rows, (e) => (e ? reject(e) : resolve())));
  });

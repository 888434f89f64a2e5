/** What the views of the Arrivals station show beside the findings: the matrix, and the logbook of one person. */
import { identifiersLike, logbookOf, personOfIdentifier } from '../core/arrival/logbook';
import { arrivalMatrix } from '../core/arrival/matrix';
import { emptyPlan, settingsOf } from '../core/plan/plan';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { answering, json, problem } from './answer';
import { currentPersons, currentTable } from './columns';
import { newestVersion } from './published';

/** `GET /api/matrix`: event × source × day of the last four weeks under the version in force. */
export const matrix = (): Promise<Response> =>
  answering(async () => {
    const [table, version] = [await currentTable(), await newestVersion()];
    const now = Date.now();
    return json(arrivalMatrix(version?.plan ?? emptyPlan(DEFAULT_SETTINGS), table, now, version?.at ?? now));
  });

const MOST_TEXT = 300;

/** `GET /api/logbook?kind=…&value=…`: one person; `?like=…`: identifiers that contain a text. */
export const logbook = (url: URL): Promise<Response> =>
  answering(async () => {
    const table = await currentTable();
    const like = url.searchParams.get('like');
    if (like !== null) return json(identifiersLike(table, like.slice(0, MOST_TEXT)));
    const kind = url.searchParams.get('kind') ?? '';
    const value = url.searchParams.get('value') ?? '';
    const version = await newestVersion();
    const persons = currentPersons(table, settingsOf(version?.plan ?? emptyPlan(DEFAULT_SETTINGS)).identity);
    const person = personOfIdentifier(table, persons, kind, value);
    if (table.findNode(kind, value) < 0)
      return problem(404, 'unknown identifier', `No message carries the ${kind} ID “${value.slice(0, MOST_TEXT)}”. Look for a part of it.`);
    if (person < 0)
      return problem(404, 'nobody', `The ${kind} ID “${value.slice(0, MOST_TEXT)}” is a placeholder, so it stands for nobody.`);
    const book = logbookOf(table, persons, person);
    return book ? json(book) : problem(404, 'no messages', 'This person has no messages of their own.');
  });

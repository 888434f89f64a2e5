/** What is worked out of messages and whose they are, and carried on as messages come, for as long as nobody of before becomes somebody else. */
import type { MessageTable } from './message-table';
import { renumberingOf, type Joined, type Renumbering } from './renumbering';

/** Messages, each with whose it is: what figures and checks over many are computed on. */
export interface Attributed {
  readonly table: MessageTable;
  /** Message row → person; −1 where no identifier is usable. Rows that came later are not in it. */
  readonly personOfMessage: Int32Array;
  /** Persons are numbered from 0 up to this. */
  readonly count: number;
  /** The same for two that differ only by what came since: each row that is in both is of the same person in both. */
  readonly lineage: object;
  /** What these are but for some messages that are left out, dated or called otherwise, and for whose some are: what is worked out of those is taken over for
   *  all who are not concerned.
   */
  readonly otherwise?: Otherwise;
}

export interface Otherwise {
  readonly than: Attributed;
  /** Rows that are dated otherwise. */
  readonly dated: readonly number[];
}

/** The persons who are concerned, in either: whose messages are not the same in both. A 1 for each. Shape: both have the same rows. */
export const concerned = ({ personOfMessage, count }: Attributed, { than, dated }: Otherwise): Uint8Array => {
  const out = new Uint8Array(Math.max(count, than.count));
  const before = than.personOfMessage;
  const note = (p: number): void => {
    if (p >= 0) out[p] = 1;
  };
  for (let row = 0; row < personOfMessage.length; row++)
    if (before[row] !== personOfMessage[row]) {
      note(before[row]!);
      note(personOfMessage[row]!);
    }
  for (const row of dated) note(personOfMessage[row]!);
  return out;
};

const known = new WeakMap<Int32Array, Attributed>();

/** Messages with persons that were worked out somewhere else: row → person, −1 for none. */
export const attributedTo = (table: MessageTable, personOfMessage: Int32Array): Attributed => {
  let made = known.get(personOfMessage);
  if (made?.table !== table) {
    let max = -1;
    for (let i = 0; i < personOfMessage.length; i++) if (personOfMessage[i]! > max) max = personOfMessage[i]!;
    known.set(personOfMessage, (made = { table, personOfMessage, count: max + 1, lineage: {} }));
  }
  return made;
};

/** Under which states by person are kept, apart from the lineage itself, which is let go with all else that hangs on it. */
interface Stem {
  /** Where it began because some persons turned out to be the same, and nothing else changed: what it goes on from. */
  before: { readonly stem: Stem; readonly joins: readonly Joined[] } | undefined;
}
const stems = new WeakMap<object, Stem>();

const stemOf = (lineage: object): Stem => {
  let stem = stems.get(lineage);
  if (!stem) stems.set(lineage, (stem = { before: undefined }));
  return stem;
};

/** Of more than this it is quicker, and holds less, to begin anew. */
const MAX_JOINS = 64;

/** Says that a lineage goes on from another, with these persons joined one after the other. */
export const goesOn = (lineage: object, from: object, joins: readonly Joined[]): void => {
  const stem: Stem = { before: { stem: stemOf(from), joins } };
  stems.set(lineage, stem);
  // What lies further back is let go.
  let n = 0;
  for (let at = stem; at.before; at = at.before.stem) {
    n += at.before.joins.length;
    if (n > MAX_JOINS) {
      at.before = undefined;
      return;
    }
  }
};

/** Carries a state over to the numbers of now. `people` has the rows that the state has seen, and no others. Whether it could. */
export type Join<S> = (state: S, people: Attributed, by: Renumbering, key: string) => boolean;

interface Held<S> {
  readonly state: S;
  rows: number;
}

/** So many ways of asking for the same are kept at a time, unless something else is said: rules and spans of time change now and then. */
const FEW_KEYS = 2;

/** A way to follow persons' messages.
 *  Shape: `read` takes the rows from `from` up to `to` into the state that `make` began, and says whether it could: where it says no, all rows
 *  are read again into a new one. `key` says of what, where one way serves several. Where persons turned out to be the same, `join` may carry the state over.
 */
export const followingPersons = <S>(
  make: (people: Attributed, key: string) => S,
  read: (state: S, people: Attributed, from: number, to: number, key: string) => boolean,
  mostKeys = FEW_KEYS,
  join?: Join<S>,
) => {
  const all = new WeakMap<object, Map<string, Held<S>>>();
  /** The state of the lineage that this one goes on from, or of the one before that, taken over. */
  const inherited = (people: Attributed, key: string): Held<S> | undefined => {
    if (!join) return undefined;
    let joins: readonly Joined[] = [];
    for (let { before } = stemOf(people.lineage); before; { before } = before.stem) {
      joins = [...before.joins, ...joins];
      const ofStem = all.get(before.stem);
      const held = ofStem?.get(key);
      if (!ofStem || !held) continue;
      if (held.rows > people.personOfMessage.length) return undefined;
      // Whoever asks under the lineage of before begins anew.
      ofStem.delete(key);
      const { table, lineage, count } = people;
      const seen: Attributed = { table, lineage, count, personOfMessage: people.personOfMessage.subarray(0, held.rows) };
      return join(held.state, seen, renumberingOf(joins, count + joins.length), key) ? held : undefined;
    }
    return undefined;
  };
  return (people: Attributed, key = ''): S => {
    const rows = people.personOfMessage.length;
    const by = join ? stemOf(people.lineage) : people.lineage;
    let ofLineage = all.get(by);
    if (!ofLineage) all.set(by, (ofLineage = new Map<string, Held<S>>()));
    let held = ofLineage.get(key);
    if (!held && (held = inherited(people, key))) ofLineage.set(key, held);
    if (held?.rows === rows) return held.state;
    // Should reading fail in the midst, nobody goes on from there.
    if (held && held.rows < rows) {
      ofLineage.delete(key);
      if (read(held.state, people, held.rows, rows, key)) {
        held.rows = rows;
        ofLineage.set(key, held);
        return held.state;
      }
    }
    const state = make(people, key);
    if (!read(state, people, 0, rows, key)) throw new Error('what is read from the beginning can be read');
    // What another has seen more of stays as it is.
    if (held && held.rows > rows) return state;
    if (ofLineage.size >= mostKeys) ofLineage.delete(ofLineage.keys().next().value!);
    ofLineage.set(key, { state, rows });
    return state;
  };
};

/** Messages counted by event, source and release: one look at each row, ever. */
import type { MessageTable } from './message-table';

export interface CubeCell {
  /** Index of the name in the table; −1 for what is no event. */
  readonly name: number;
  readonly source: number;
  readonly release: number;
  messages: number;
}

interface Cube {
  length: number;
  readonly cells: Map<number, CubeCell>;
}

const RELEASES = 100_000;
const SOURCES = 10_000;
const cubes = new WeakMap<MessageTable, Cube>();

/** The cells of a table; rows that came since the last call are added. Shape: every combination that occurs, in the order of first sight. */
export const cubeOf = (table: MessageTable): Iterable<CubeCell> => {
  let cube = cubes.get(table);
  if (!cube) cubes.set(table, (cube = { length: 0, cells: new Map() }));
  const { cells } = cube;
  for (let row = cube.length; row < table.length; row++) {
    const name = table.name.get(row);
    const source = table.source.get(row);
    const release = table.release.get(row);
    const key = ((name + 1) * SOURCES + source) * RELEASES + release;
    const cell = cells.get(key);
    if (cell) cell.messages++;
    else cells.set(key, { name, source, release, messages: 1 });
  }
  cube.length = table.length;
  return cells.values();
};

import { defineFormat } from '../format';
import { typescriptOf } from '../code/typescript';

export const typescript = defineFormat({
  id: 'typescript',
  title: 'TypeScript',
  note: 'One typed function for each event, for our sender.',
  file: { ending: 'ts', type: 'text/plain; charset=utf-8' },
  write: (given) => typescriptOf(given),
});

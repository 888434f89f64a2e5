/** Fills a database that is to be cloned, in a process of its own: loading the demo leaves caches of one database behind. */
import { prepareDemo, prepareEmpty } from '../../ops/prepare';
import type { FaultId } from '../../src/demo/faults';
import type { Content } from './database';

const [url = '', said = ''] = process.argv.slice(2);
const content = JSON.parse(said) as Exclude<Content, 'bare'>;
await (content === 'empty'
  ? prepareEmpty(url)
  : prepareDemo(url, { ...content, ...(content.faults ? { faults: new Set<FaultId>(content.faults) } : {}) } as Parameters<
      typeof prepareDemo
    >[1]));

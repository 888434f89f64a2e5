/** Asks for seven views once a second, for `bench viewed`. */
import assert from 'node:assert/strict';

const VIEWS = ['findings', 'counts', 'identity', 'clearance', 'identity-health', 'matrix', `drift?since=${Date.now() - 7 * 86_400_000}`];
const EVERY_MS = 1000;

const base = process.argv[2]!;
let over = false;
const took: number[] = [];

const ask = async (view: string): Promise<void> => {
  const from = performance.now();
  const answer = await fetch(`${base}/api/${view}`);
  const text = await answer.text();
  assert.equal(answer.status, 200, `${view}: ${text.slice(0, 200)}`);
  assert(text.length > 2, view);
  took.push(performance.now() - from);
};

process.on('disconnect', () => process.exit());
process.send!('begun');
process.once('message', () => void (over = true));
while (!over) {
  const from = performance.now();
  await Promise.all(VIEWS.map(ask));
  await new Promise((next) => setTimeout(next, Math.max(0, EVERY_MS - (performance.now() - from))));
}
took.sort((a, b) => a - b);
process.send!(`${took.length} views, median ${took[took.length >> 1]!.toFixed(0)} ms`);

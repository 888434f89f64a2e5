/** Reads many event streams, for `bench streams`. */
import { get } from 'node:http';

const [base = '', count = '0'] = process.argv.slice(2);
let open = 0;
const told = new Set<number>();
for (let i = 0; i < Number(count); i++) {
  await new Promise<void>((begun) => {
    const r = get(`${base}/api/live`, { agent: false }, (answer) => {
      if (answer.statusCode === 200) open++;
      answer.on('data', () => told.add(i));
      answer.on('close', () => open--);
      begun();
    });
    r.on('error', () => begun());
  });
}
process.on('disconnect', () => process.exit());
process.send!('begun');
process.once('message', () => process.send!(`${open} streams open, ${told.size} of them told something`));

/** What a code base sends, told from its sources: through aliases, namespaces, constants and files; never from comments, types or other packages. */
import { join } from 'node:path';
import { readFileSync } from 'node:fs';
import { afterAll, describe, expect, it, test } from 'vitest';
import { rmSync } from 'node:fs';
import { UsedTexts } from '../../src/cli/input/used-texts';
import { withoutComments } from '../../src/cli/input/source-text';
import { folderWith } from './program';

const folders: string[] = [];
afterAll(() => folders.forEach((f) => rmSync(f, { recursive: true })));

/** What is surely sent by the files, as `file:line name`, and what was taken for another package's. */
const sentBy = (files: { readonly [path: string]: string }, packages: readonly string[] = [], calls: readonly string[] = ['event']) => {
  const at = folderWith(files);
  folders.push(at);
  const texts = new UsedTexts({ calls: new Set(calls), packages: new Set(['signal-post-sender', ...packages]) });
  for (const f of Object.keys(files)) texts.look(join(at, f));
  const scans = Object.keys(files).map((f) => ({ f, scan: texts.scan(join(at, f), readFileSync(join(at, f), 'utf8')) }));
  return {
    sent: scans.flatMap(({ f, scan }) => scan.used.filter((u) => u.isSent).map((u) => `${f}:${u.place.line} ${u.text}`)),
    named: scans.flatMap(({ scan }) => scan.used.filter((u) => !u.isSent).map((u) => u.text)),
    calls: scans.flatMap(({ scan }) => scan.calls.map((c) => c.name)),
    others: scans.flatMap(({ scan }) => scan.others),
    byText: scans.filter(({ scan }) => scan.byText).map(({ f }) => f),
  };
};

const NAMES = `export const LENT = 'Tool Lent';
export const EVENTS = { viewed: 'Tool Viewed', nested: { paid: 'Deposit Paid' } } as const;
export enum Named { Returned = 'Tool Returned' }
export default Object.freeze({ asked: \`Tool \${'Asked'}\` });`;

describe('TypeScript and JavaScript', () => {
  it.each<[string, { readonly [path: string]: string }, string[]]>([
    ['a method of whatever is at hand', { 'a.ts': `sender.event('Tool Lent'); this.post.event('Tool Viewed'); getSender()?.event('X');` }, ['a.ts:1 Tool Lent', 'a.ts:1 Tool Viewed', 'a.ts:1 X']], // prettier-ignore
    ['an alias of the function', { 'a.ts': `const track = sender.event;\ntrack('Tool Lent')` }, ['a.ts:2 Tool Lent']],
    ['one that is bound', { 'a.ts': `const track = sender.event.bind(sender);\ntrack('Tool Lent')` }, ['a.ts:2 Tool Lent']],
    [
      'one that is taken out of an object',
      { 'a.ts': `const { event: track } = createSender({});\ntrack('Tool Lent')` },
      ['a.ts:2 Tool Lent'],
    ],
    ['called through `call`', { 'a.ts': `sender.event.call(sender, 'Tool Lent')` }, ['a.ts:1 Tool Lent']],
    ['an import under another name', { 'a.ts': `import { event as track } from './own.js';\ntrack('Tool Lent')` }, ['a.ts:2 Tool Lent']],
    [
      'a wrapper’s alias in another file',
      { 'own.ts': `export const track = sender.event;`, 'a.ts': `import { track as t } from './own';\nt('Tool Lent')` },
      ['a.ts:2 Tool Lent'],
    ],
    [
      'the same through a file that passes it on, and by its namespace',
      {
        'own.ts': `const send = sender.event;\nexport { send as track };`,
        'all.ts': `export * from './own'`,
        'a.ts': `import * as all from './all';\nall.track('Tool Lent')`,
      },
      ['a.ts:2 Tool Lent'],
    ],
    ['the sender’s package', { 'a.ts': `import { createSender } from 'signal-post-sender';\nconst s = createSender({});\ns.event('Tool Lent')` }, ['a.ts:3 Tool Lent']], // prettier-ignore
    ['a constant', { 'a.ts': `const NAME = 'Tool Lent';\nsender.event(NAME)` }, ['a.ts:2 Tool Lent']],
    ['a constant that is put together', { 'a.ts': `const WHAT = 'Tool';\nsender.event(\`\${WHAT} Lent\`); sender.event(WHAT + ' Viewed')` }, ['a.ts:2 Tool Lent', 'a.ts:2 Tool Viewed']], // prettier-ignore
    ['either of two', { 'a.ts': `sender.event(ok ? 'Tool Lent' : 'Loan Refused'); sender.event(name || 'X')` }, ['a.ts:1 Tool Lent', 'a.ts:1 Loan Refused', 'a.ts:1 X']], // prettier-ignore
    [
      'constants of another file: by name, in objects, an enum, what it gives by default',
      {
        'names.ts': NAMES,
        'a.ts': `import asked, { LENT, EVENTS, Named } from './names';\nimport * as all from './names';\nsender.event(LENT);\nsender.event(EVENTS.viewed);\nsender.event(EVENTS['nested'].paid);\nsender.event(Named.Returned);\nsender.event(asked.asked);\nsender.event(all.EVENTS.viewed);`,
      },
      ['a.ts:3 Tool Lent', 'a.ts:4 Tool Viewed', 'a.ts:5 Deposit Paid', 'a.ts:6 Tool Returned', 'a.ts:7 Tool Asked', 'a.ts:8 Tool Viewed'],
    ],
    ['taken out of an object of names', { 'names.ts': NAMES, 'a.ts': `import { EVENTS } from './names';\nconst { viewed } = EVENTS;\nsender.event(viewed)` }, ['a.ts:3 Tool Viewed']], // prettier-ignore
    ['nothing that is assigned anew', { 'a.ts': `let name = 'Tool Lent'; name = other();\nsender.event(name)` }, []],
    [
      'nothing in a comment, or in a type',
      { 'a.ts': `// sender.event('Tool Lent')\n/* sender.event('X') */\ntype N = 'Tool Lent' | 'X';` },
      [],
    ],
    ['in JSX', { 'b.jsx': `export const B = () => <a onClick={() => sender.event('Tool Lent')}>event('X')</a>;` }, ['b.jsx:1 Tool Lent']],
    ['circles of imports end', { 'a.ts': `import { b } from './b'; export const a = b;\nsender.event(a)`, 'b.ts': `import { a } from './a'; export const b = a;` }, []], // prettier-ignore
  ])('%s', (_, files, sent) => {
    expect(sentBy(files).sent).toEqual(sent);
  });

  it('another package’s function of the same name is another thing, and that is said; unless it is named', () => {
    const files = {
      'a.ts': `import ga from 'other-tool';\nimport { event } from 'd3ish';\nconst c = new (require('third'))();\nga.event('Tool Lent'); event('X'); c.event('Y'); ga('z').event('Z');`,
    };
    expect(sentBy(files)).toMatchObject({ sent: [], named: ['third', 'z'], others: ['other-tool', 'd3ish', 'third', 'other-tool'] });
    expect(sentBy(files, ['other-tool']).sent).toEqual(['a.ts:4 Tool Lent', 'a.ts:4 Z']);
  });

  it('a type’s names are none; a literal elsewhere is named, not sent', () => {
    expect(sentBy({ 'a.ts': `type N = 'Tool Lent';\nconst x: N = 'Tool Viewed';` })).toMatchObject({ sent: [], named: ['Tool Viewed'] });
  });

  it('generated functions are told under their own names, whatever they are imported as', () => {
    expect(sentBy({ 'a.ts': `import { toolLent as lent } from './plan';\nimport * as plan from './plan';\nlent(s, {}); plan.toolViewed(s, {});` }).calls).toEqual(['toolLent', 'toolViewed']); // prettier-ignore
  });

  it('what is no syntax at all is read by its quotes, and said so', () => {
    expect(sentBy({ 'a.ts': `class { sender.event('Tool Lent')` })).toMatchObject({ sent: ['a.ts:1 Tool Lent'], byText: ['a.ts'] });
  });
});

describe('markup', () => {
  it.each([
    ['vue', `<template>\n<a @click="event('Tool Viewed')">x</a>\n</template>\n<script setup lang="ts">\nconst N: string = 'Tool Lent';\nsender.event(N);\n</script>`, ['a.vue:6 Tool Lent', 'a.vue:2 Tool Viewed']], // prettier-ignore
    ['svelte', `<script>\nsender.event('Tool Lent')\n</script>\n<!-- event('X') -->`, ['a.svelte:2 Tool Lent']],
    ['astro', `---\nconst N = 'Tool Lent';\nsender.event(N);\n---\n<p>it's event here</p>`, ['a.astro:3 Tool Lent']],
    ['html', `<p>it's</p>\n<script>// event('X')\nsender.event('Tool Lent')</script>`, ['a.html:3 Tool Lent']],
  ])('%s: its scripts by their syntax, the rest by its quotes', (end, text, sent) => {
    expect(sentBy({ [`a.${end}`]: text }).sent).toEqual(sent);
  });
});

describe('other languages', () => {
  it.each<[string, string, string[]]>([
    ['a.kt', `const val LENT = "Tool Lent" // sender.event("X")\nfun f() { sender.event(LENT) }`, ['a.kt:2 Tool Lent']],
    [
      'a.java',
      `static final String LENT = "Tool Lent";\n/* sender.event("X"); */ sender.event(Names.LENT, props);`,
      ['a.java:2 Tool Lent'],
    ],
    ['a.swift', `let address = "http://x" ; sender.event("Tool Lent")\ncase viewed = "Tool Viewed"\nsender.event(name: viewed)`, ['a.swift:1 Tool Lent', 'a.swift:3 Tool Viewed']], // prettier-ignore
    ['a.go', `const Lent = "Tool Lent"\nsender.event(Lent) // event("X")`, ['a.go:2 Tool Lent']],
    ['a.py', `LENT = "Tool Lent"  # sender.event("X")\nsender.event(LENT)\nsender.event('it\\'s # not a comment')`, ['a.py:2 Tool Lent', "a.py:3 it\\'s # not a comment"]], // prettier-ignore
    ['a.rb', `# event("X")\nsender.event("Tool Lent")`, ['a.rb:2 Tool Lent']],
    ['a.php', `# event("X")\n// event("Y")\n$s->event("Tool Lent");`, ['a.php:3 Tool Lent']],
  ])('%s', (file, text, sent) => {
    expect(sentBy({ [file]: text }).sent).toEqual(sent);
  });

  it('a constant of another file is known; one name for two texts is none', () => {
    expect(sentBy({ 'n.kt': `const val LENT = "Tool Lent"`, 'a.kt': `sender.event(Names.LENT)` }).sent).toEqual(['a.kt:1 Tool Lent']);
    expect(sentBy({ 'n.kt': `const val N = "A"`, 'm.kt': `const val N = "B"`, 'a.kt': `sender.event(N)` }).sent).toEqual([]);
  });

  test('without comments every line and column stays where it was', () => {
    const text = 'a("x // y") // b\n/* c\n d */ e("""f\n// g""")';
    const clean = withoutComments('a.kt', text);
    expect(clean).toBe('a("x // y")     \n    \n      e("""f\n// g""")');
    expect(clean).toHaveLength(text.length);
  });
});

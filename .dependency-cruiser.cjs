/** What may import what; the table stands in docs/architecture.md. */
const only = (name, from, ...allowed) => ({
  name,
  severity: 'error',
  comment: `${from} may import only: ${allowed.join(', ')}`,
  from: { path: `^src/${from}/` },
  to: { path: '^src/', pathNot: `^src/(${[from, ...allowed].join('|')})(/|$)` },
});

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-unresolved', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '^astro:' } },
    only('core', 'core'),
    only('db', 'db', 'core'),
    only('server', 'server', 'core', 'db'),
    only('analysis', 'analysis', 'core', 'db', 'server'),
    only('ui', 'ui', 'core'),
    only('client', 'client', 'core'),
    only('islands', 'islands', 'core', 'ui', 'workers', 'client'),
    only('workers', 'workers', 'core', 'client'),
    only('stand-ins', 'stand-ins', 'core', 'ui', 'client'),
    only('demo', 'demo', 'core', 'db', 'server'),
    only('cli', 'cli', 'core'),
    only('pages', 'pages', 'core', 'server', 'islands', 'ui', 'stand-ins'),
    {
      name: 'core-packages',
      severity: 'error',
      comment: 'The core takes only small pure packages, named in src/core/README.md.',
      from: { path: '^src/core/' },
      to: {
        dependencyTypes: ['npm', 'npm-dev', 'core'],
        pathNot:
          'node_modules/(date-fns|@date-fns/tz|fastest-levenshtein|wink-lexicon|@noble/hashes|zod|pluralize|papaparse|yaml|re2js|xmlbuilder)/',
      },
    },
    {
      name: 'sql-in-db-only',
      severity: 'error',
      from: { path: '^src/(core|server|analysis|islands|ui|stand-ins|pages)/', pathNot: '^src/server/listener' },
      to: { path: 'node_modules/(pg|kysely|pg-copy-streams)/' },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.json', '.css'],
    },
  },
};

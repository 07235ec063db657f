import { keywords, pages, performance, results } from './project';
import { dataFolder, demoFiles, keep, type Project, startServer } from './server';

/**
 * Makes the projects that tests begin with, each once. Every state is what comes before it in its row with one thing more:
 *
 *     named → keywords → files → grouped → mapped → found       a planner with four files
 *     domain → site → ideas → suits → captured → clustered      from a domain and a seed, through services
 *     demo → decided → briefed                                   the demo
 */
export default async function prepare() {
  await Promise.all([fromFiles(), fromNothing(), fromDemo()]);
}

const profile = (host: string) => ({ name: 'Fenwater', host, country: 'GB', language: 'en', brandTerms: [] });

async function group(server: Project) {
  await server.send('POST', '/api/clusters/regroup', { depth: 10, minOverlap: 4, rule: 'primary' });
  await server.idle();
}

const clusterNamed = async (server: Project, name: string) =>
  (
    await server.get<{ rows: { id: number; name: string }[] }>(`/api/clusters?Search=${encodeURIComponent(name)}`)
  ).rows.find((c) => c.name === name)!.id;

async function fromFiles() {
  const program = await startServer(dataFolder());
  const server = program.project;
  keep(program, 'empty');
  await server.send('PUT', '/api/project', profile('www.fenwater.example'));
  keep(program, 'named');
  await server.import('pages', 'pages.csv', pages.replace('Adresse;Titel', 'url;title'));
  await server.import('keywords', 'keywords.csv', keywords);
  keep(program, 'keywords');
  await server.import('results', 'results.csv', results);
  keep(program, 'files');
  await group(server);
  keep(program, 'grouped');
  const { rows } = await server.get<{ rows: { id: number; url: string }[] }>('/api/pages');
  for (const [cluster, path] of [
    ['kayak dry suit', '/dry-suits'],
    ['kayak paddle', '/paddles'],
  ] as const) {
    const pageId = rows.find((p) => p.url.endsWith(path))!.id;
    await server.send('PUT', `/api/page-map/${await clusterNamed(server, cluster)}`, { pageId, version: null });
  }
  await server.send('POST', `/api/page-map/${await clusterNamed(server, 'how to roll a kayak')}/planned`, {
    url: '/skills/rolling',
    workingTitle: 'How to roll a kayak',
    form: 'guide',
    topicId: null,
    version: null,
  });
  keep(program, 'mapped');
  await server.import('performance', 'performance.csv', performance);
  keep(program, 'found');
  await program.end();
}

async function fromNothing() {
  const program = await startServer(dataFolder());
  const server = program.project;
  await server.send('PUT', '/api/project', profile('fenwater.example'));
  keep(program, 'domain');
  const { scan } = await server.get<{ scan: object }>('/api/settings');
  await server.send('PUT', '/api/settings/scan', { ...scan, depth: 'full', ratePerSecond: 200 });
  await server.send('POST', '/api/scans');
  await server.idle();
  keep(program, 'site');
  for (const seed of ['kayak paddle', 'sea kayak', 'dry suit']) {
    await server.send('POST', '/api/keywords/gather', {
      from: 'ideas',
      seeds: [seed],
      ...{ containing: true, related: true, alphabet: false, questions: true },
      selection: null,
      add: true,
      listId: null,
    });
    await server.idle();
  }
  keep(program, 'ideas');
  const filter = { minVolume: 50, wordsIn: 'dry suit' };
  await server.send('POST', '/api/lists', { name: 'Suits', notes: '', selection: { ids: null, filter, search: null } });
  keep(program, 'suits');
  const suits = { ids: null, filter: { listId: 1 }, search: null };
  await server.send('POST', '/api/captures', { selection: suits, freshDays: null, again: false, certainty: null });
  await server.idle();
  keep(program, 'captured');
  await group(server);
  keep(program, 'clustered');
  await program.end();
}

async function fromDemo() {
  const program = await startServer(dataFolder(), undefined, '--load', demoFiles);
  const server = program.project;
  await server.idle();
  keep(program, 'demo');
  for (const about of ['/guides/dry-suit-guide', '/magazine/sit-on-tops-of-the-year']) {
    const found = await server.get<{ rows: { key: string }[] }>(
      `/api/findings?Kind=conflict&Search=${encodeURIComponent(about)}`,
    );
    const key = encodeURIComponent(found.rows[0]!.key);
    const { finding, pages } = await server.get<{ finding: { version: string }; pages: { page: { id: number } }[] }>(
      `/api/conflicts/${key}`,
    );
    const keepPageId = pages[0]!.page.id;
    const decision = { decision: 'redirect', keepPageId, note: '', version: finding.version };
    await server.send('POST', `/api/conflicts/${key}/decision`, decision);
  }
  keep(program, 'decided');
  const clusterIds = [await clusterNamed(server, 'kayak dry suit')];
  await server.send('POST', '/api/briefs', { clusterIds });
  await server.send('POST', `/api/clusters/${clusterIds[0]}/read-ranking`);
  await server.idle();
  await server.send('POST', '/api/briefs', { clusterIds });
  keep(program, 'briefed');
  await program.end();
}

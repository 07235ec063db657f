/** A part of the project, as the server names it in the header Jade-Changed. */
export type Area =
  | 'project'
  | 'keywords'
  | 'results'
  | 'pages'
  | 'performance'
  | 'clusters'
  | 'pageMap'
  | 'topics'
  | 'findings'
  | 'plan'
  | 'briefs'
  | 'refresh'
  | 'jobs';

const sifted = ['keywords', 'results', 'clusters', 'pageMap', 'topics', 'project'] as const;
const grouped = ['keywords', 'results', 'clusters', 'topics', 'pageMap', 'findings', 'pages', 'project'] as const;
const decided = [...grouped, 'performance', 'plan', 'refresh'] as const;
const searched = ['performance', 'pages', 'clusters', 'pageMap', 'plan', 'refresh', 'project', 'keywords'] as const;
const ran = ['jobs', 'results', 'pages', 'keywords', 'project'] as const;

/** What each query reads. Queries that read a bit of everything are 'all'. */
const reads = {
  project: 'all',
  projects: 'all',
  'projects in brief': 'all',
  backups: 'all',
  guide: [],
  team: [],
  'my briefs': [],
  overview: 'all',
  history: 'all',
  places: 'all',
  summary: 'all',
  page: 'all',
  brief: 'all',
  check: 'all',
  keyword: decided,

  keywords: sifted,
  'keywords-tally': sifted,
  picked: sifted,
  'result lists': sifted,
  modifiers: sifted,
  variants: sifted,
  columns: ['keywords', 'project'],
  lists: ['keywords'],
  filters: ['keywords'],
  sources: ['keywords'],
  compare: [...sifted, 'pages'],
  'compare-hosts': [...sifted, 'pages'],

  settings: ['project', 'keywords', 'results'],
  services: ['project', 'jobs'],
  tracking: ['project', 'results', 'pages'],
  curve: ['project', 'performance'],

  job: ran,
  imports: ran,
  captures: ran,
  scans: ran,
  rejected: ran,
  unread: ran,
  'failed-captures': ran,
  'page-changes': ran,
  stages: [...sifted, 'jobs'],
  estimate: [...sifted, 'jobs'],
  'estimate-stages': [...sifted, 'jobs'],
  'capture schedule': [...ran, 'clusters'],
  'result-list': sifted,
  'result-changes': sifted,
  'side-by-side': sifted,

  pages: decided,
  'other-pages': decided,
  performance: ['performance', 'project', 'pages', 'jobs'],

  clusters: decided,
  cluster: decided,
  'cluster brief': [...decided, 'briefs'],
  together: grouped,
  drift: grouped,
  groupingPreview: ['keywords', 'results', 'project', 'clusters'],
  topics: decided,
  topic: decided,
  themes: grouped,
  resolutions: grouped,

  'page map': decided,
  mapping: decided,
  'mapping progress': grouped,
  'clear-left': grouped,
  'clear suggestions': grouped,
  which: decided,

  findings: decided,
  finding: decided,
  'findings-by-kind': decided,
  'finding-kinds': ['project'],
  bundles: decided,
  conflict: decided,
  assignees: ['findings'],
  'missing links': decided,

  steps: [...decided, 'briefs'],
  step: [...decided, 'briefs'],
  'steps of page': [...decided, 'briefs'],
  roadmap: [...decided, 'briefs'],
  owners: ['plan', 'project'],
  'plan settings': ['plan', 'project'],

  briefs: [...decided, 'briefs'],
  'brief terms': [...decided, 'briefs'],
  'compare-pages': [...decided, 'briefs'],
  'text differences': ['briefs', 'pages'],

  'refresh state': searched,
  'refresh page': searched,
  'refresh query': searched,
  'pages with queries': searched,
  queries: searched,
  'marked queries': searched,
  'fading pages': searched,
  changes: searched,
  change: searched,
  'changes of page': searched,
  ranks: sifted,
  'rank history': sifted,
} as const satisfies Record<string, 'all' | readonly Area[]>;

/** What a query is about; the first part of its key. */
export type Root = keyof typeof reads;

/** The key of a query: what it is about, and what it asks for. */
export const keyOf = (root: Root, ...asked: readonly unknown[]) => [root, ...asked] as const;

/** Jobs are updated by events only; changes never reload them. */
export const jobsKey = ['jobs'] as const;

/**
 * True where a query reads something that was changed.
 * @param changed Areas; undefined where everything may have changed.
 */
export function isTouched(key: readonly unknown[], changed: ReadonlySet<Area> | undefined) {
  const root = key[0];
  if (root === jobsKey[0]) return false;
  if (changed === undefined) return true;
  const areas: 'all' | readonly Area[] | undefined = reads[root as Root];
  if (areas === undefined || areas === 'all') return changed.size > 0;
  return areas.some((area) => changed.has(area));
}
